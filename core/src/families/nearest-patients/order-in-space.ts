import { columnsInBoxes, pointsABlock } from '../../numeric/index.ts';
import type { Points } from './search.ts';

/** Points by which the widest column is found. */
const looked = 256;

/**
 * Points so that those near each other stand in one block: halves along the widest column, and of
 * these again (Friedman, Bentley & Finkel 1977, ACM Transactions on Mathematical Software 3:209-226).
 */
export function orderInSpace({ rowCount, values, shares }: Points): Int32Array {
  const columns = shares.length;
  const order = Int32Array.from({ length: rowCount }, (_, i) => i);
  if (columns <= columnsInBoxes) part(0, rowCount);
  return order;

  function part(from: number, to: number): void {
    const blocks = Math.ceil((to - from) / pointsABlock);
    if (blocks < 2) return;
    const column = widest(from, to);
    const key = (row: number) => values[row * columns + column];
    const middle = from + (blocks >> 1) * pointsABlock;
    order.subarray(from, to).sort((one, other) => key(one) - key(other) || one - other);
    part(from, middle);
    part(middle, to);
  }

  function widest(from: number, to: number): number {
    const step = Math.max(1, Math.floor((to - from) / looked));
    let [found, width] = [0, -1];
    for (let j = 0; j < columns; j++) {
      let [low, high] = [Infinity, -Infinity];
      for (let at = from; at < to; at += step) {
        const value = values[order[at] * columns + j];
        if (value < low) low = value;
        if (value > high) high = value;
      }
      if (high - low > width) [found, width] = [j, high - low];
    }
    return found;
  }
}
