import { balanceOf, side, type SideOfColumn } from '../design/index.ts';
import type { Table } from '../table/index.ts';

/** A column in which two groups of patients differ. */
export interface Apart {
  column: string;
  /** In SDs: see `balanceOf`; absent where each group is all alike, and unlike the other. */
  difference?: number;
  of: [SideOfColumn, SideOfColumn];
}

/** Fewer than this on either side tell nothing of what sets them apart (common practice). */
const fewest = 5;
const columns = 6;

/**
 * The columns in which the patients of one side differ most from those of the other.
 *
 * @param sides of each row of the table: development and held out stand for the first and the second
 */
export function setsApart(table: Table, names: string[], sides: Uint8Array): Apart[] {
  const counts = [side.development, side.heldOut].map((one) =>
    sides.reduce((sum, own) => sum + Number(own === one), 0),
  );
  if (Math.min(...counts) < fewest) return [];
  return balanceOf(table, names, sides)
    .flatMap(({ column, development, heldOut, difference }): Apart[] => {
      const of: Apart['of'] = [development, heldOut];
      if (difference !== undefined) return [{ column, difference, of }];
      return areUnlike(of) ? [{ column, of }] : [];
    })
    .sort((a, b) => sizeOf(b) - sizeOf(a))
    .slice(0, columns);
}

const sizeOf = ({ difference }: Apart): number => Math.abs(difference ?? Number.MAX_VALUE);

/** Groups of which nobody varies can differ all the same. */
function areUnlike([one, other]: Apart['of']): boolean {
  if (one.known === 0 || other.known === 0) return false;
  if (one.mean !== undefined) return one.mean !== other.mean;
  return (one.counts ?? []).some(
    (count, level) => count / one.known !== (other.counts?.[level] ?? 0) / other.known,
  );
}
