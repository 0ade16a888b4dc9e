import type { Scale } from '@core/book/document';
import { sharesOf } from '@core/statistics/class-tools';
import { put, putRule, ruleOf, type Draft } from '../../draft';

export const scaleOf = (draft: Draft): Scale | null =>
  draft.rules.scale ? (ruleOf(draft, 'scales', draft.rules.scale) ?? null) : null;

/** Bands from the highest down. */
export const bandsOf = (draft: Draft): Scale['bands'] =>
  [...(scaleOf(draft)?.bands ?? [])].sort((a, b) => b.from - a.from);

export const putScale = (draft: Draft, keys: Partial<Scale>): Draft =>
  putRule(draft, 'scales', draft.rules.scale!, put(scaleOf(draft)!, keys));

/** Bands that somebody set by hand: they are no longer found by shares of the class. */
export const putBands = (draft: Draft, bands: Scale['bands']): Draft =>
  putScale(draft, sharesOf(scaleOf(draft)!) ? { bands, info: undefined } : { bands });

export const moveBand = (draft: Draft, label: string, from: number): Draft =>
  putBands(
    draft,
    scaleOf(draft)!.bands.map((b) => (b.label === label ? { ...b, from } : b)),
  );
