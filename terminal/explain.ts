import { compileBook, type CompiledBook, type CompiledNode } from '@core/calculation/compiled/compile';
import { workOutStudent, type StudentOutcome } from '@core/calculation/final';
import { explainGroup } from '@core/working/explain-group';
import { explainItem } from '@core/working/explain-item';
import { explainStanding } from '@core/working/explain-standing';
import { needLines } from '@core/working/need-sentences';
import { needsOf, type Need } from '@core/working/needs';
import { sentences, type Line } from '@core/working/sentences';
import type { Step } from '@core/working/steps';
import { soundBook } from './compute';
import { refuseWith, write } from './output';

const WIDTH = 72;

/** `explain FILE STUDENT [ITEM]`: the working as text: of one item or category, or of the standing and all below it. */
export async function explain(file: string, student: string, id: string | undefined): Promise<number> {
  const book = await soundBook(file);
  if (book === null) return 2;
  const compiled = compileBook(book);
  const s = compiled.studentIndex.get(student);
  if (s === undefined) return refuseWith(`There is no student “${student}” in this book.`);
  const node = id === undefined ? undefined : compiled.nodes.get(id);
  if (id !== undefined && node === undefined) return refuseWith(`There is no item or group “${id}” in this book.`);
  const outcome = workOutStudent(compiled, s);
  if (node !== undefined) await write(nodeText(compiled, outcome, node));
  else await write(wholeText(compiled, outcome));
  return 0;
}

/** What a node is called: the title in its `info` where it has one, else its id. */
function nameOf(compiled: CompiledBook, id: string): string {
  const info = compiled.nodes.get(id)?.source.info as { title?: unknown } | null | undefined;
  return typeof info?.title === 'string' ? info.title : id;
}

function wholeText(compiled: CompiledBook, outcome: StudentOutcome): string {
  const parts = [section(compiled, `Standing of ${outcome.student.id}`, explainStanding(compiled, outcome))];
  const walk = (node: CompiledNode): void => {
    if (node !== compiled.root && node.type !== 'also') parts.push(nodeText(compiled, outcome, node));
    if (node.type === 'group') node.children.forEach(walk);
  };
  walk(compiled.root);
  const needs = needsOf(compiled, outcome.index);
  if (needs.length > 0) parts.push(needsText(compiled, needs));
  return parts.join('\n');
}

function nodeText(compiled: CompiledBook, outcome: StudentOutcome, node: CompiledNode): string {
  // What is counted again is explained where it counts, and by what it counts.
  if (node.type === 'also') return nodeText(compiled, outcome, node.of);
  const steps = node.type === 'item' ? explainItem(compiled, outcome, node) : explainGroup(outcome, node);
  return section(compiled, nameOf(compiled, node.id), steps);
}

function section(compiled: CompiledBook, title: string, steps: readonly Step[]): string {
  const words = { timeZone: compiled.book.timeZone, name: (id: string) => nameOf(compiled, id) };
  return [title, ...sentences(steps, words).flatMap(lineText)].join('\n') + '\n';
}

function lineText({ label, detail, figure }: Line): string[] {
  const gap = Math.max(2, WIDTH - 2 - label.length - figure.length);
  const head = figure === '' ? `  ${label}` : `  ${label}${' '.repeat(gap)}${figure}`;
  return detail === '' ? [head] : [head, `      ${detail}`];
}

function needsText(compiled: CompiledBook, needs: readonly Need[]): string {
  const words = { timeZone: compiled.book.timeZone, name: (id: string) => nameOf(compiled, id) };
  return ['What is still open must bring', ...needLines(needs, words).flatMap(lineText)].join('\n') + '\n';
}
