import { inDecimals } from './locale';
import { FLAG, STATES, type CellColumns } from '../../worker/protocol';

/** One cell as it is drawn and read out. */
export interface CellView {
  text: string;
  /** "−4" beside the score, or empty. */
  taken: string;
  /** Space-separated classes. */
  look: string;
  /** What a screen reader says of it. */
  words: string;
}

export interface CellOptions {
  asMarked: boolean;
  trouble: 'clash' | 'refused' | null;
  unkept: boolean;
  /** Typed and not readable: it stands in the cell as it was typed. */
  unreadableText?: string | null;
  /** Why what is kept cannot be read. */
  fault?: string | null;
  noted?: boolean;
  secondLook?: boolean;
  /** Somebody else changed it since one was here. */
  news?: boolean;
  /** Names a moment as a day: "27 Nov". */
  day(at: number): string;
}

/** Hundredths of a point as text: at most two decimals, one always: "13.0", "12.25". */
export function points(hundredths: number): string {
  const text = (hundredths / 100).toFixed(2);
  return inDecimals(text.endsWith('0') ? text.slice(0, -1) : text);
}

const WORDS: Record<(typeof STATES)[number], string> = {
  blank: '',
  awaiting: 'awaited',
  missing: 'missing',
  pending: 'to mark',
  scored: '',
  set: 'set',
  excused: 'excused',
  'left-out': 'not asked',
};

/** A cell of an assessment in which names are hidden; what was typed there before they were, and was not kept, is told. */
function hiddenView({ trouble, unkept }: CellOptions): CellView {
  const waits = trouble ? (['refused', 'could not be kept'] as const) : unkept ? (['unkept', 'not kept yet'] as const) : null; // prettier-ignore
  return {
    ...{ text: 'hidden', taken: '' },
    look: waits ? `names-hidden ${waits[0]}` : 'names-hidden',
    words: waits ? `hidden until shown, ${waits[1]}` : 'hidden until shown',
  };
}

/** How a cell looks (states.md): what counts, or what was marked; pencil or ink; a word for a state. */
export function cellView(cells: CellColumns, at: number, options: CellOptions): CellView {
  const state = STATES[cells.state[at]!]!;
  const flags = cells.flags[at]!;
  const ink = (flags & FLAG.released) !== 0;
  if (flags & FLAG.hidden) return hiddenView(options);
  const look: string[] = [ink ? 'ink' : 'pencil'];
  const words: string[] = [];
  let text = WORDS[state];
  let taken = '';

  if (state === 'scored' || state === 'set') {
    const marked = cells.marked[at]!;
    const counts = cells.counts[at]!;
    const shown = options.asMarked && !Number.isNaN(marked) ? Math.round(marked / 100) : counts;
    text = Number.isNaN(shown) ? '' : points(shown);
    look.push('score');
    words.push(text, ink ? 'released' : flags & FLAG.changed ? 'changed since released' : 'draft');
    const late = cells.taken[at]!;
    if (late > 0) {
      taken = `−${points(late).replace(/[.,]0$/, '')}`;
      words.push(`late, ${taken}`);
    }
    if (state === 'set') {
      look.push('set');
      words.push('set by hand');
    }
  } else {
    look.push(state);
    if (text !== '') words.push(text);
    if (ink) words.push('released');
    if (flags & FLAG.byHand) words.push('by hand');
  }
  if (flags & FLAG.ownDate && (state === 'blank' || state === 'awaiting') && !Number.isNaN(cells.due[at]!)) {
    text = `due ${options.day(cells.due[at]!)}`;
    look.push('own-date');
    words.push(text);
  }
  if (flags & FLAG.dropped) {
    look.push('dropped');
    words.push('dropped');
  }
  if (flags & FLAG.changed) look.push('changed');
  if (flags & FLAG.again) {
    look.push('again');
    words.push('to mark again');
  }
  if (options.noted || options.secondLook) {
    look.push(options.secondLook ? 'second-look' : 'noted');
    words.push(options.secondLook ? 'second look' : 'has a note');
  }
  if (options.news) {
    look.push('news');
    words.push('changed since you were here');
  }
  if (typeof options.unreadableText === 'string')
    return {
      text: options.unreadableText,
      taken: '',
      look: 'refused unreadable',
      words: `${options.unreadableText}, which cannot be read; kept now: ${words.join(', ') || 'nothing'}`,
    };
  if (typeof options.fault === 'string')
    return { text: '?', taken: '', look: 'refused unreadable', words: `cannot be read. ${options.fault}` };
  if (options.trouble === 'clash')
    return { text: 'which?', taken: '', look: 'clash', words: 'somebody else changed this too; choose which is right' };
  if (options.trouble === 'refused') {
    look.push('refused');
    words.push('could not be kept');
  } else if (options.unkept) {
    look.push('unkept');
    words.push('not kept yet');
  }
  return { text, taken, look: look.join(' '), words: words.join(', ') || 'empty' };
}
