import type { ShownNode, TreeShown } from '@rook-scale/core/families';

/** A node as a stratum of the drawing. */
export interface Stratum {
  place: number;
  node: ShownNode;
  depth: number;
  /** Patients above it in the drawing, from which its own begin. */
  above: number;
  isLeaf: boolean;
}

/** Whether a node is a leaf in the tree of this size, by its place in the sequence. */
export const isLeafAt = ({ left, from }: ShownNode, size: number): boolean =>
  left === undefined || from! <= size;

/**
 * The strata of the tree of this size beneath one of its nodes, each before those it is parted into.
 *
 * @param folded nodes of which nothing beneath is drawn
 */
export function strataOf(
  { nodes }: TreeShown,
  size: number,
  root: number,
  folded: ReadonlySet<number> = new Set(),
): Stratum[] {
  const found: Stratum[] = [];
  const lay = (place: number, depth: number, above: number) => {
    const node = nodes[place];
    const isLeaf = isLeafAt(node, size) || folded.has(place);
    found.push({ place, node, depth, above, isLeaf });
    if (isLeaf) return;
    lay(node.left!, depth + 1, above);
    lay(node.right!, depth + 1, above + nodes[node.left!].patients);
  };
  lay(root, 0, 0);
  return found;
}

/** Parent of each node; -1 of the root. */
export function parentsOf({ nodes }: TreeShown): Int32Array {
  const parents = new Int32Array(nodes.length).fill(-1);
  nodes.forEach(({ left, right }, place) => {
    if (left !== undefined) parents[left] = parents[right!] = place;
  });
  return parents;
}

/** The nodes from the root to one, both among them. */
export function wayTo(parents: Int32Array, place: number): number[] {
  const way: number[] = [];
  for (let at = place; at >= 0; at = parents[at]) way.unshift(at);
  return way;
}

/** Whoever is asked for: of yes and no those with the event, of several levels the cases, as they are counted. */
export function casesIn({ counts = [] }: ShownNode, isCase: boolean[]): number {
  return counts.reduce((sum, count, level) => sum + (isCase[level] ? count : 0), 0);
}

/** The leaf of this size that a patient ends in. @param cells by column, as text; empty where not known */
export function leafOf({ nodes }: TreeShown, size: number, cells: Record<string, string>): number {
  let place = 0;
  while (!isLeafAt(nodes[place], size)) {
    const { input = '', below, levels, gapsLeft, left, right } = nodes[place];
    const cell = cells[input] ?? '';
    const isLeft =
      cell === ''
        ? gapsLeft
        : levels
          ? levels.includes(cell)
          : below === undefined || Number(cell) < below;
    place = isLeft ? left! : right!;
  }
  return place;
}
