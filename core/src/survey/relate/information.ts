import { sortedGrades, sortedQuantile, type Grades } from '../../numeric/index.ts';
import { crossTable } from '../associate/index.ts';

/**
 * The share of the outcome's entropy that a column takes away: mutual information over entropy,
 * 0 to 1 (Shannon 1948, Bell System Technical Journal 27:379-423), less the bias that empty cells
 * give (Miller 1955, in Information Theory in Psychology). NaN when the outcome does not vary.
 */
export function informationShare(counts: number[][]): number {
  const rows = counts.map(sum);
  const columns = (counts[0] ?? []).map((_, j) => sum(counts.map((row) => row[j])));
  const total = sum(rows);
  const entropy = entropyOf(columns, total);
  if (!(entropy > 0)) return NaN;
  const joint = entropyOf(counts.flat(), total);
  const raw = entropyOf(rows, total) + entropy - joint;
  const used = (list: number[]) => list.filter((count) => count > 0).length;
  const bias = ((used(rows) - 1) * (used(columns) - 1)) / (2 * total);
  return Math.min(1, Math.max(0, raw - bias) / entropy);
}

/** Numbers as codes of at most ten classes of about equal size; -1 where not known. */
export function tenths(grades: Grades): { codes: Int32Array; levels: number } {
  const sorted = sortedGrades(grades);
  const edges = [
    ...new Set(Array.from({ length: 9 }, (_, i) => sortedQuantile(sorted, (i + 1) / 10))),
  ];
  const classOf = Int32Array.from(grades.values, (value) => {
    const above = edges.findIndex((edge) => value <= edge);
    return above < 0 ? edges.length : above;
  });
  const codes = new Int32Array(grades.codes.length);
  for (let row = 0; row < codes.length; row++)
    codes[row] = grades.codes[row] < 0 ? -1 : classOf[grades.codes[row]];
  return { codes, levels: edges.length + 1 };
}

/** Counts of classes or levels of both columns. */
export function classTable(
  a: { codes: ArrayLike<number>; levels: number },
  b: { codes: ArrayLike<number>; levels: number },
): number[][] {
  return crossTable(a.codes, a.levels, b.codes, b.levels).counts;
}

function entropyOf(counts: number[], total: number): number {
  return -sum(counts.map((count) => (count > 0 ? (count / total) * Math.log(count / total) : 0)));
}

function sum(list: number[]): number {
  return list.reduce((total, one) => total + one, 0);
}
