import { agnes, type Cluster } from 'ml-hclust';
import { associate, makeReady, type Association } from './association.ts';
import type { Measured } from './measured.ts';

/** The association of every two columns. */
export interface AssociationMap {
  names: string[];
  /** `cells[i][j]` for j < i; null where it cannot be said. */
  cells: (Association | null)[][];
  /** Positions of `names` such that columns that go together stand together. */
  order: number[];
}

/**
 * @param ranked Spearman between numbers instead of Pearson
 * @param done called with the share of pairs done, now and then
 */
export function associationMap(
  columns: Measured[],
  ranked: boolean,
  done: (share: number) => void = () => undefined,
): AssociationMap {
  const usable = columns.filter(({ column }) => column.type !== 'text');
  const ready = usable.map((column) => makeReady(column, ranked));
  const cells = ready.map((mine, i) => {
    const row = ready.slice(0, i).map((other) => {
      const found = associate(mine, other, ranked);
      return found && !Number.isNaN(found.value) ? found : null;
    });
    done((i * (i + 1)) / Math.max(1, ready.length * (ready.length - 1)));
    return row;
  });
  return { names: usable.map(({ name }) => name), cells, order: clusteredOrder(cells) };
}

/**
 * The order of the leaves when columns are joined by average linkage (Sokal & Michener 1958,
 * University of Kansas Science Bulletin 38:1409-1438) with 1 - |association| as distance.
 */
export function clusteredOrder(cells: ({ value: number } | null)[][]): number[] {
  const count = cells.length;
  if (count < 3) return cells.map((_, i) => i);
  const distance = (i: number, j: number) =>
    i === j ? 0 : 1 - Math.abs(cells[Math.max(i, j)][Math.min(i, j)]?.value ?? 0);
  const distances = cells.map((_, i) => cells.map((__, j) => distance(i, j)));
  return leavesOf(agnes(distances, { method: 'average', isDistanceMatrix: true }));
}

function leavesOf(cluster: Cluster): number[] {
  return cluster.isLeaf ? [cluster.index] : cluster.children.flatMap(leavesOf);
}
