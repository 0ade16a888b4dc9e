import { ORDERS, type Order } from './list/marking-order';

/** Pixels that the list of students is wide, where nobody drew it otherwise. */
const USUAL_WIDTH = 196;
const ORDER_PLACE = 'last-tally marking order';
const WIDTH_PLACE = 'last-tally marking list';

/** A machine that keeps nothing has it for this page alone. */
function keepHere(place: string, value: string): void {
  try {
    localStorage.setItem(place, value);
  } catch {
    return;
  }
}

export const keepOrder = (order: Order): void => keepHere(ORDER_PLACE, order);
/** The panes beside the work, in pixels. */
const PANES = { list: WIDTH_PLACE, margin: 'last-tally margin of the work' };
type Pane = keyof typeof PANES;
export const USUAL_WIDTHS: Record<Pane, number> = { list: USUAL_WIDTH, margin: 312 };

export const keepWidth = (pane: Pane, width: number): void => keepHere(PANES[pane], String(width));

export function keptWidth(pane: Pane): number {
  const kept = Number(localStorage.getItem(PANES[pane]) ?? USUAL_WIDTHS[pane]);
  return kept >= 120 && kept <= 520 ? kept : USUAL_WIDTHS[pane];
}

export function keptOrder(): Order {
  const kept = localStorage.getItem(ORDER_PLACE);
  return ORDERS.some((o) => o.value === kept) ? (kept as Order) : 'name';
}

const PINNED_PLACE = 'last-tally examples';

/** Work that was chosen as examples, by whoever chose it for which assessment. */
export function keptPinned(of: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(`${PINNED_PLACE} ${of}`) ?? '[]');
    return Array.isArray(kept) ? kept.filter((id) => typeof id === 'string') : [];
  } catch {
    // Nothing that is ours, or a browser that keeps nothing.
    return [];
  }
}

export const keepPinned = (of: string, ids: readonly string[]): void =>
  keepHere(`${PINNED_PLACE} ${of}`, JSON.stringify(ids));
