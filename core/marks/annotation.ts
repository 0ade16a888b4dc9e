import {
  INKS,
  MARK_KINDS,
  markFault,
  type SURFACES,
  tidyMark,
  type Box,
  type Ink,
  type MarkKind,
  type Point,
  type Quote,
  type StrokePoint,
  type Surface,
  type WorkMark,
} from './work-mark';

/** Marks as W3C Web Annotations (https://www.w3.org/TR/annotation-model/), one each. Format: docs/formats/marks.md. */

const CONTEXT = ['http://www.w3.org/ns/anno.jsonld', { lt: 'urn:last-tally:marks#' }];
/** How a page of a PDF is named in a fragment, as the annotation model has it. */
const PAGES = 'http://tools.ietf.org/rfc/rfc3778';
const OWN = 'urn:last-tally:marks#';
const SVG = 'http://www.w3.org/ns/svg';
const COLOURS: Record<Ink, string> = { plum: '#6B3C78', teal: '#0C5A5E', umber: '#8F4A06', ink: '#14323A' };
const MOTIVATIONS: Record<MarkKind, string> = {
  ...{ highlight: 'highlighting', strike: 'editing', note: 'commenting', text: 'describing', pen: 'highlighting' },
};

/** Who made it and when, and what it lies on: an address. */
export interface AnnotationFrame {
  id: string;
  source: string;
  creator?: string;
  created?: string;
  modified?: string;
}

type Json = Record<string, unknown>;

/** The annotation of a tidy mark. */
export function toAnnotation(mark: WorkMark, frame: AnnotationFrame): Json {
  const { comment, wording, surface } = mark;
  const words = (value: string, purpose: string): Json => ({
    ...{ type: 'TextualBody', value, format: 'text/plain', purpose },
  });
  const body = [
    ...(comment === '' ? [] : [words(comment, 'commenting')]),
    ...(wording === undefined ? [] : [words(wording, 'editing')]),
  ];
  const within = selectorsOf(mark);
  const selector =
    surface.on === 'whole'
      ? within
      : [
          {
            type: 'FragmentSelector',
            ...(surface.on === 'page'
              ? { conformsTo: PAGES, value: `page=${surface.index + 1}` }
              : { conformsTo: OWN, value: `${surface.on}=${surface.index}` }),
            refinedBy: within,
          },
        ];
  return {
    '@context': CONTEXT,
    id: `urn:uuid:${frame.id}`,
    type: 'Annotation',
    motivation: MOTIVATIONS[mark.kind],
    'lt:kind': mark.kind,
    ...(frame.creator === undefined ? {} : { creator: { type: 'Person', name: frame.creator } }),
    ...(frame.created === undefined ? {} : { created: frame.created }),
    ...(frame.modified === undefined ? {} : { modified: frame.modified }),
    stylesheet: { type: 'CssStylesheet', value: `.${mark.ink} { color: ${COLOURS[mark.ink]}; }` },
    ...(body.length === 0 ? {} : { body }),
    target: { type: 'SpecificResource', source: frame.source, styleClass: mark.ink, selector },
  };
}

function selectorsOf({ quote, boxes, at, strokes }: WorkMark): Json[] {
  const drawing = [
    ...(boxes ?? []).map(([x, y, w, h]) => `<rect x="${x}" y="${y}" width="${w}" height="${h}"/>`),
    ...(at ? [`<circle cx="${at[0]}" cy="${at[1]}" r="0"/>`] : []),
    ...(strokes ?? []).map((s) => `<path d="${s.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x} ${y}`).join('')}"/>`),
  ].join('');
  return [
    ...(quote
      ? [
          { type: 'TextQuoteSelector', exact: quote.exact, prefix: quote.prefix, suffix: quote.suffix },
          { type: 'TextPositionSelector', start: quote.start, end: quote.end },
        ]
      : []),
    ...(drawing === ''
      ? []
      : [
          {
            ...{ type: 'SvgSelector', value: `<svg xmlns="${SVG}" viewBox="0 0 1 1">${drawing}</svg>` },
            ...(strokes ? { 'lt:pressure': strokes.map((s) => s.map((p) => p[2])) } : {}),
          },
        ]),
  ];
}

const list = (value: unknown): unknown[] => (Array.isArray(value) ? value : value === undefined ? [] : [value]);
const text = (value: unknown): string => (typeof value === 'string' ? value : '');
const isJson = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value);

/** A mark read from an annotation, ours or one that says the same by the standard's means; a sentence: why not. */
export function readAnnotation(value: unknown): { id: string; source: string; mark: WorkMark } | string {
  if (!isJson(value) || !list(value['type']).includes('Annotation')) return 'This is no annotation.';
  const target = list(value['target'])[0];
  if (!isJson(target)) return 'An annotation without a place cannot be taken.';
  const id = /^urn:uuid:([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})$/i.exec(text(value['id']))?.[1]?.toLowerCase() ?? ''; // prettier-ignore
  const place = readPlace(list(target['selector']));
  if (typeof place === 'string') return place;
  const bodies = list(value['body']).map((b): Json => (isJson(b) ? b : { value: b }));
  const said = (purpose: string): string | undefined =>
    bodies.filter((b) => text(b['purpose'] || 'commenting') === purpose).map((b) => text(b['value'])).join('\n\n') || undefined; // prettier-ignore
  const motivation = text(list(value['motivation'])[0]);
  const own = text(value['lt:kind']) as MarkKind;
  const kind: MarkKind = MARK_KINDS.includes(own) ? own : guessedKind(motivation, place);
  const style = text(list(target['styleClass'])[0]) as Ink;
  const wording = said('editing');
  const mark = tidyMark({
    ...place,
    ...{ kind, ink: INKS.includes(style) ? style : 'plum', comment: said('commenting') ?? '' },
    ...(wording === undefined ? {} : { wording }),
  });
  const fault = markFault(mark);
  return fault ?? { id, source: text(target['source']), mark };
}

function guessedKind(motivation: string, place: Place): MarkKind {
  if (place.strokes) return 'pen';
  if (place.at) return 'note';
  return motivation === 'editing' ? 'strike' : 'highlight';
}

interface Place {
  surface: Surface;
  quote?: Quote;
  boxes?: Box[];
  at?: Point;
  strokes?: StrokePoint[][];
}

function readPlace(selectors: unknown[]): Place | string {
  let surface: Surface = { on: 'whole', index: 0 };
  const place: Omit<Place, 'surface'> = {};
  const quote: Partial<Quote> = {};
  const waiting = [...selectors];
  for (let n = 0; waiting.length > 0; n++) {
    const s = waiting.shift();
    if (!isJson(s) || n > 100) return 'The place of an annotation cannot be read.';
    switch (s['type']) {
      case 'FragmentSelector': {
        const found = /^(page|sheet|block)=(\d{1,6})$/.exec(text(s['value']));
        if (!found) return 'The place of an annotation cannot be read.';
        const on = found[1] as (typeof SURFACES)[number];
        surface = { on, index: Number(found[2]) - (on === 'page' ? 1 : 0) };
        break;
      }
      case 'TextQuoteSelector':
        Object.assign(quote, { exact: text(s['exact']), prefix: text(s['prefix']).slice(-64), suffix: text(s['suffix']).slice(0, 64) }); // prettier-ignore
        break;
      case 'TextPositionSelector':
        Object.assign(quote, { start: s['start'], end: s['end'] });
        break;
      case 'SvgSelector': {
        const drawn = readDrawing(text(s['value']), s['lt:pressure']);
        if (typeof drawn === 'string') return drawn;
        Object.assign(place, drawn);
        break;
      }
      default:
        return 'The place of an annotation is said in a way that is not read here.';
    }
    waiting.push(...list(s['refinedBy']));
  }
  if (quote.exact !== undefined) {
    // Without a position the words themselves are looked for.
    const { exact, prefix = '', suffix = '' } = quote;
    const placed = Number.isInteger(quote.start) && Number.isInteger(quote.end);
    place.quote = { ...{ exact, prefix, suffix }, start: placed ? quote.start! : 0, end: placed ? quote.end! : exact.length }; // prettier-ignore
  }
  return { surface, ...place };
}

const NUMBER = String.raw`-?\d{1,9}(?:\.\d{1,12})?(?:e-\d{1,2})?`;
const SHAPE = /<(rect|circle|path)\s([^<>]*?)\/?>(?:<\/\1>)?/g;
const POINT = new RegExp(String.raw`[ML]?\s*(${NUMBER})[\s,]+(${NUMBER})\s*`, 'y');

function readDrawing(svg: string, pressures: unknown): Omit<Place, 'surface'> | string {
  const inner = /^<svg\b[^<>]*>(.*)<\/svg>$/s.exec(svg.trim())?.[1];
  if (inner === undefined || inner.replace(SHAPE, '').trim() !== '')
    return 'A drawing has shapes that are not read here.';
  const place: Omit<Place, 'surface'> = {};
  for (const [, shape, attributes] of inner.matchAll(SHAPE)) {
    const of = new Map([...attributes!.matchAll(/([\w-]+)="([^"]*)"/g)].map(([, k, v]) => [k!, v!]));
    const number = (k: string): number => (of.get(k)?.trim() ? Number(of.get(k)) : NaN);
    if (shape === 'rect') (place.boxes ??= []).push([number('x'), number('y'), number('width'), number('height')]);
    else if (shape === 'circle') place.at = [number('cx'), number('cy')];
    else {
      const stroke = readPath(of.get('d') ?? '', list(list(pressures)[place.strokes?.length ?? 0]));
      if (typeof stroke === 'string') return stroke;
      (place.strokes ??= []).push(stroke);
    }
  }
  return place;
}

function readPath(d: string, pressures: unknown[]): StrokePoint[] | string {
  const points: StrokePoint[] = [];
  POINT.lastIndex = 0;
  for (let at = 0; at < d.length; at = POINT.lastIndex) {
    POINT.lastIndex = at;
    const found = POINT.exec(d);
    if (!found) return 'A drawing has lines that are not read here.';
    const pressure = pressures[points.length];
    points.push([Number(found[1]), Number(found[2]), typeof pressure === 'number' ? pressure : 0.5]);
  }
  return points;
}
