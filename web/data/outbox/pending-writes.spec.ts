import { cellKey } from '@contract/wire/cell-key';
import { reasonOf, renewed, PendingQueues, without, type PendingWrite } from './pending-writes';

const waiting = (order: number, ...items: string[]): PendingWrite => ({
  operation: `op-${order}`,
  book: 'fens',
  kind: items.length > 1 ? 'paste' : 'change',
  order,
  cells: items.map((item) => ({
    student: 's1',
    item,
    version: 0,
    change: { kind: 'score', points: order },
    typed: String(order),
  })),
});
const first = (queues: PendingQueues): string[] =>
  queues
    .values()
    .filter((w) => queues.isFirst(w))
    .map((w) => w.operation);

describe('what waits to be kept', () => {
  it('goes cell by cell in the order made: one over several cells waits until it is first in each', () => {
    const queues = new PendingQueues();
    const [a, b, c] = [waiting(1, 'moss'), waiting(2, 'moss', 'reed'), waiting(3, 'reed')] as const;
    for (const w of [a, b, c]) queues.add(w);
    expect(first(queues)).toEqual(['op-1']);
    expect(queues.counts()).toEqual(
      new Map([
        [cellKey('s1', 'moss'), 2],
        [cellKey('s1', 'reed'), 2],
      ]),
    );
    queues.remove(a);
    expect(first(queues)).toEqual(['op-2']);
    queues.remove(b);
    expect(first(queues)).toEqual(['op-3']);
    queues.remove(c);
    expect([queues.values(), queues.counts().size]).toEqual([[], 0]);
  });

  it('keeps the place in the order when one set becomes several', () => {
    const queues = new PendingQueues();
    const [set, later] = [waiting(1, 'moss', 'reed', 'test'), waiting(2, 'reed')] as const;
    queues.add(set);
    queues.add(later);
    const apart = ['reed', 'test'].map((item) => ({ ...waiting(1, item), operation: `apart-${item}` }));
    const rest = { ...waiting(1, 'moss'), operation: 'rest' };
    queues.replace(set, [rest, ...apart]);
    expect(queues.of(cellKey('s1', 'reed')).map((w) => w.operation)).toEqual(['apart-reed', 'op-2']);
    expect(queues.has('op-1')).toBe(false);
    expect(first(queues).sort()).toEqual(['apart-reed', 'apart-test', 'rest']);
  });

  it('leaves a cell out under an id of its own, since it is another write', () => {
    const set = waiting(1, 'moss', 'reed');
    const left = without(set, cellKey('s1', 'moss'));
    expect(left.cells.map((c) => c.item)).toEqual(['reed']);
    expect(left.operation).not.toBe(set.operation);
    expect(left.order).toBe(set.order);
  });

  it('takes up what an earlier version wrote, and leaves what this one writes', () => {
    const { cells, kind: _kind, ...rest } = waiting(4, 'moss');
    expect(renewed({ ...rest, ...cells[0]! })).toEqual(waiting(4, 'moss'));
    expect(renewed(waiting(5, 'moss', 'reed'))).toEqual(waiting(5, 'moss', 'reed'));
  });

  it('sends the reason that was typed behind a dash', () => {
    expect(reasonOf('excused - ill in October')).toEqual({ reason: 'ill in October' });
    expect(reasonOf('17.5')).toEqual({});
  });
});
