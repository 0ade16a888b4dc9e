import { ORDERS, type Order } from './list/marking-order';

/** Pixels that the list of students is wide, where nobody drew it otherwise. */
export const USUAL_WIDTH = 196;
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
export const keepWidth = (width: number): void => keepHere(WIDTH_PLACE, String(width));

export function keptWidth(): number {
  const kept = Number(localStorage.getItem(WIDTH_PLACE) ?? USUAL_WIDTH);
  return kept >= 120 && kept <= 520 ? kept : USUAL_WIDTH;
}

export function keptOrder(): Order {
  const kept = localStorage.getItem(ORDER_PLACE);
  return ORDERS.some((o) => o.value === kept) ? (kept as Order) : 'name';
}
