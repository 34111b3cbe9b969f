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

/** @param ranked Spearman between numbers instead of Pearson */
export function associationMap(columns: Measured[], ranked: boolean): AssociationMap {
  const rows = columns.map((_, i) => i);
  return mapOfRows(columns, associationRows(columns, ranked, rows));
}

/** Some rows of the map, for whoever shares them out: each column of `rows` with all before it. */
export function associationRows(
  columns: Measured[],
  ranked: boolean,
  rows: number[],
): (Association | null)[][] {
  const ready = columns.map(makeReady);
  return rows.map((i) =>
    ready.slice(0, i).map((other) => {
      const found = associate(ready[i], other, ranked);
      return found && !Number.isNaN(found.value) ? found : null;
    }),
  );
}

/** The map that all its rows make; text has no place in it. */
export function mapOfRows(columns: Measured[], cells: (Association | null)[][]): AssociationMap {
  const usable = columns.flatMap(({ column }, i) => (column.type === 'text' ? [] : [i]));
  const kept = usable.map((i, place) => usable.slice(0, place).map((j) => cells[i][j]));
  return { names: usable.map((i) => columns[i].name), cells: kept, order: clusteredOrder(kept) };
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
