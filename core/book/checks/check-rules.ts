import { pointer, type Problems } from './problems';
import { choice, date, has, isObject, list, number, object, text, type Json } from './shapes';

/** Names that a document defines, for the checks of what refers to them. */
export interface RuleNames {
  late: Set<string>;
  blank: Set<string>;
  /** With their labels. */
  scales: Map<string, Set<string>>;
  marks: Map<string, Set<string>>;
}

/** Section 1 `rules`, sections 3, 4.1 and 8. Gives the names that the rest may refer to. */
export function checkRules(p: Problems, at: string, v: unknown): RuleNames {
  const names: RuleNames = { late: new Set(), blank: new Set(), scales: new Map(), marks: new Map() };
  if (v === undefined || !object(p, at, v, ['late', 'blank', 'marks', 'scales'])) return names;
  each(p, at, v, 'late', (name, where, rule) => {
    names.late.add(name);
    checkLate(p, where, rule);
  });
  each(p, at, v, 'blank', (name, where, rule) => {
    names.blank.add(name);
    checkBlank(p, where, rule);
  });
  each(p, at, v, 'scales', (name, where, rule) => {
    names.scales.set(name, labelsOf(rule));
    checkScale(p, where, rule);
  });
  each(p, at, v, 'marks', (name, where, rule) => names.marks.set(name, checkMarks(p, where, rule)));
  return names;
}

function each(
  p: Problems,
  at: string,
  v: Json,
  key: string,
  then: (name: string, at: string, rule: unknown) => void,
): void {
  if (!has(v, key)) return;
  const where = pointer(at, key);
  const named = v[key];
  if (!isObject(named)) {
    object(p, where, named, []);
    return;
  }
  for (const name of Object.keys(named)) if (name !== 'info') then(name, pointer(where, name), named[name]);
}

export function checkLate(p: Problems, at: string, v: unknown): void {
  if (!isObject(v)) {
    object(p, at, v, []);
    return;
  }
  const common = ['max', 'afterCloses', 'of', 'floor', 'graceMinutes', 'skipDays', 'skipDates'];
  if (!has(v, 'steps') && !has(v, 'after')) common.push('bank');
  const steps = has(v, 'steps') || has(v, 'after');
  if (steps) object(p, at, v, ['steps', 'after', ...common], ['steps', 'after']);
  else object(p, at, v, ['unit', 'deduct', ...common], ['unit', 'deduct']);
  if (!steps && has(v, 'unit')) choice(p, pointer(at, 'unit'), v['unit'], ['hour', 'day']);
  for (const key of ['deduct', 'after', 'max', 'afterCloses', 'floor', 'graceMinutes'])
    if (has(v, key) && (steps ? key !== 'deduct' : key !== 'after')) number(p, pointer(at, key), v[key]);
  if (!steps && has(v, 'bank')) checkBank(p, pointer(at, 'bank'), v['bank']);
  if (has(v, 'of')) choice(p, pointer(at, 'of'), v['of'], ['possible', 'earned']);
  if (has(v, 'steps') && list(p, pointer(at, 'steps'), v['steps'])) checkSteps(p, pointer(at, 'steps'), v['steps']);
  if (has(v, 'skipDays') && list(p, pointer(at, 'skipDays'), v['skipDays']))
    v['skipDays'].forEach((day, i) => {
      if (typeof day !== 'number' || !Number.isInteger(day) || day < 1 || day > 7)
        p.add(pointer(pointer(at, 'skipDays'), i), `${String(day)} is no day of the week: 1 is Monday, 7 is Sunday.`);
    });
  if (has(v, 'skipDates') && list(p, pointer(at, 'skipDates'), v['skipDates']))
    v['skipDates'].forEach((day, i) => date(p, pointer(pointer(at, 'skipDates'), i), day));
}

function checkBank(p: Problems, at: string, v: unknown): void {
  if (!object(p, at, v, ['units', 'perItem'], ['units'])) return;
  for (const key of ['units', 'perItem']) if (has(v, key)) number(p, pointer(at, key), v[key], { whole: true });
}

function checkSteps(p: Problems, at: string, steps: unknown[]): void {
  if (steps.length === 0) p.add(at, 'A late rule in steps needs at least one step.');
  let before = -Infinity;
  steps.forEach((step, i) => {
    const where = pointer(at, i);
    if (!object(p, where, step, ['hours', 'deduct'], ['hours', 'deduct'])) return;
    if (has(step, 'deduct')) number(p, pointer(where, 'deduct'), step['deduct']);
    if (!has(step, 'hours') || !number(p, pointer(where, 'hours'), step['hours'])) return;
    if (step['hours'] <= before)
      p.add(pointer(where, 'hours'), 'The hours of the steps must rise from one to the next.');
    before = step['hours'];
  });
}

export function checkBlank(p: Problems, at: string, v: unknown): void {
  if (!object(p, at, v, ['beforeDue', 'afterDue', 'missingAfter'], ['beforeDue', 'afterDue'])) return;
  if (has(v, 'beforeDue')) choice(p, pointer(at, 'beforeDue'), v['beforeDue'], ['skip', 'zero']);
  if (has(v, 'missingAfter')) choice(p, pointer(at, 'missingAfter'), v['missingAfter'], ['due', 'closes']);
  if (!has(v, 'afterDue') || v['afterDue'] === 'skip') return;
  const where = pointer(at, 'afterDue');
  if (!isObject(v['afterDue'])) p.add(where, 'Here "skip" or {"percent": …} is expected.');
  else if (object(p, where, v['afterDue'], ['percent'], ['percent']) && has(v['afterDue'], 'percent'))
    number(p, pointer(where, 'percent'), v['afterDue']['percent']);
}

function labelsOf(scale: unknown): Set<string> {
  const bands = isObject(scale) && Array.isArray(scale['bands']) ? (scale['bands'] as unknown[]) : [];
  return new Set(bands.flatMap((b) => (isObject(b) && typeof b['label'] === 'string' ? [b['label']] : [])));
}

export function checkScale(p: Problems, at: string, v: unknown): void {
  if (!object(p, at, v, ['bands', 'lookUp'], ['bands'])) return;
  if (has(v, 'lookUp')) choice(p, pointer(at, 'lookUp'), v['lookUp'], ['rounded', 'exact']);
  const where = pointer(at, 'bands');
  if (!has(v, 'bands') || !list(p, where, v['bands'])) return;
  const labels = new Set<string>();
  const froms = new Set<number>();
  v['bands'].forEach((band, i) => {
    const here = pointer(where, i);
    if (!object(p, here, band, ['label', 'from'], ['label', 'from'])) return;
    if (has(band, 'label') && text(p, pointer(here, 'label'), band['label']))
      unique(p, pointer(here, 'label'), labels, band['label'], 'label');
    if (!has(band, 'from') || !number(p, pointer(here, 'from'), band['from'])) return;
    if (froms.has(band['from'])) p.add(pointer(here, 'from'), `Two bands begin at ${band['from']} %.`);
    froms.add(band['from']);
  });
  if (!froms.has(0)) p.add(where, 'No band begins at 0 %, so some percentages would have no letter.');
}

function checkMarks(p: Problems, at: string, v: unknown): Set<string> {
  const labels = new Set<string>();
  if (!list(p, at, v)) return labels;
  v.forEach((mark, i) => {
    const here = pointer(at, i);
    if (!object(p, here, mark, ['label', 'percent'], ['label', 'percent'])) return;
    if (has(mark, 'percent')) number(p, pointer(here, 'percent'), mark['percent']);
    if (has(mark, 'label') && text(p, pointer(here, 'label'), mark['label']))
      unique(p, pointer(here, 'label'), labels, mark['label'], 'label');
  });
  return labels;
}

export function unique<T>(p: Problems, at: string, seen: Set<T>, value: T, what: string): void {
  if (seen.has(value)) p.add(at, `The ${what} "${String(value)}" is there twice.`);
  seen.add(value);
}
