import type { Page } from '@playwright/test';
import { median, p95 } from './figure';
import { keyTimes, watchKeys } from './key-times';

const ROUNDS = 3;
/** Milliseconds between two keys: eleven in a second, a quick hand (decision 014). */
const BETWEEN = 90;
/** Strokes that are drawn, and points of each. */
const STROKES = { count: 6, points: 90 };
const LETTERS = 'the pit was dug to one metre on the third terrace and roots thin out below';

/** Runs in a page: notes how long each frame took. As text: what compiles it would name its function by a helper. */
const WATCH_FRAMES = `{
  const all = (globalThis.frameTimes = []);
  let last = performance.now();
  const next = (now) => {
    all.push(now - last);
    last = now;
    requestAnimationFrame(next);
  };
  requestAnimationFrame(next);
}`;

/** Draws with a pen over a box of the page, and gives the 95th percentile of its frames. */
async function drawTimes(page: Page, box: { x: number; y: number; width: number; height: number }): Promise<number> {
  await page.bringToFront();
  const pen = await page.context().newCDPSession(page);
  const send = (type: string, x: number, y: number, force: number) =>
    pen.send('Input.dispatchMouseEvent', { type: type as 'mouseMoved', x, y, button: 'left', buttons: 1, clickCount: 1, pointerType: 'pen', force }); // prettier-ignore
  await page.evaluate(() => ((globalThis as unknown as { frameTimes: number[] }).frameTimes.length = 0));
  for (let s = 0; s < STROKES.count; s++) {
    const at = (i: number): [number, number] => [
      box.x + box.width * (0.15 + (0.7 * i) / STROKES.points),
      box.y + box.height * (0.2 + 0.1 * s + 0.04 * Math.sin(i / 4)),
    ];
    await send('mousePressed', ...at(0), 0.3);
    for (let i = 1; i <= STROKES.points; i++) await send('mouseMoved', ...at(i), 0.3 + (0.5 * i) / STROKES.points);
    await send('mouseReleased', ...at(STROKES.points), 0);
  }
  const times = await page.evaluate(() => (globalThis as unknown as { frameTimes: number[] }).frameTimes);
  await pen.detach();
  return p95(times);
}

/** Drawing on the page that is shown in the room, and the same on a bare canvas of its size. */
export async function penRatio(room: Page, bare: Page): Promise<number> {
  await room.evaluate(WATCH_FRAMES);
  const sheet = (await room.locator('lt-surface-marks').first().boundingBox())!;
  const place = (await room.locator('lt-work-view .place').boundingBox())!;
  const box = { ...sheet, height: Math.min(sheet.height, place.y + place.height - sheet.y) };
  await bare.setContent(`<body style="margin:0"><canvas style="display:block;width:${sheet.width}px;height:${sheet.height}px">`); // prettier-ignore
  await bare.evaluate(WATCH_FRAMES);
  await bare.evaluate(() => {
    const canvas = document.querySelector('canvas')!;
    canvas.width = canvas.clientWidth * devicePixelRatio;
    canvas.height = canvas.clientHeight * devicePixelRatio;
    const context = canvas.getContext('2d', { desynchronized: true })!;
    context.lineCap = 'round';
    canvas.addEventListener('pointerdown', (e) => context.moveTo(e.offsetX, e.offsetY));
    canvas.addEventListener('pointermove', (e) => {
      for (const p of e.getCoalescedEvents()) {
        context.lineTo(p.offsetX, p.offsetY);
        context.lineWidth = 1 + 3 * p.pressure;
        context.stroke();
        context.beginPath();
        context.moveTo(p.offsetX, p.offsetY);
      }
    });
  });
  const there = { x: 0, y: 0, width: box.width, height: box.height };
  for (const [page, at] of [[room, box], [bare, there]] as const) await drawTimes(page, at); // prettier-ignore
  const ratios: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const [ours, theirs] = [await drawTimes(room, box), await drawTimes(bare, there)];
    ratios.push(ours / theirs);
    process.stderr.write(`a frame while drawing: ${ours.toFixed(1)} ms; a bare canvas: ${theirs.toFixed(1)} ms\n`);
  }
  return median(ratios);
}

async function type(page: Page, keys: string): Promise<void> {
  for (const key of keys) {
    await page.keyboard.press(key === ' ' ? 'Space' : key);
    await page.waitForTimeout(BETWEEN);
  }
}

/** Milliseconds until a level that is given on one page stands on another that shows the same work, the 95th percentile. */
export async function seenElsewhere(room: Page, other: Page): Promise<number> {
  const [given, seen] = [room, other].map((page) => page.getByRole('slider').first());
  const times: number[] = [];
  for (const level of '123123123123123') {
    await given!.focus();
    const from = performance.now();
    await room.keyboard.press(level);
    while ((await seen!.getAttribute('aria-valuenow')) !== level) {
      if (performance.now() - from > 20_000) throw new Error('a level is not seen elsewhere');
    }
    times.push(performance.now() - from);
  }
  return p95(times);
}

/** Typing in the end note and setting levels, and the same keys into one input: the slower of both. */
export async function markingKeyRatio(room: Page, bare: Page): Promise<number> {
  await room.evaluate(watchKeys);
  await bare.setContent('<input autofocus>');
  await bare.locator('input').focus();
  await bare.evaluate(watchKeys);
  const note = room.getByRole('textbox', { name: 'End note' });
  const row = room.locator('aside li button.on');
  const levels = '1231321232132123123131';
  const inNote = async (): Promise<void> => {
    await note.click();
    await room.waitForTimeout(BETWEEN);
    await type(room, LETTERS);
  };
  const onRulers = async (): Promise<void> => {
    for (const level of levels) {
      // An act of its own, with its own frame: whoever marks has gone there before.
      await row.focus();
      await room.waitForTimeout(BETWEEN);
      await type(room, level);
    }
  };
  const worst: number[] = [];
  // Each once before it counts.
  await keyTimes(room, inNote);
  await keyTimes(room, onRulers);
  await keyTimes(bare, () => type(bare, LETTERS));
  for (let round = 0; round < ROUNDS; round++) {
    const [text, ruler, plain] = [
      await keyTimes(room, inNote),
      await keyTimes(room, onRulers),
      await keyTimes(bare, () => type(bare, LETTERS)),
    ];
    worst.push(Math.max(text, ruler) / plain);
    process.stderr.write(`a key in the note ${text.toFixed(1)} ms, a level ${ruler.toFixed(1)} ms; one input ${plain.toFixed(1)} ms\n`); // prettier-ignore
  }
  return median(worst);
}
