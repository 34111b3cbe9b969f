import type { Differing } from '@rook-scale/core/comparing';
import type { Dictionary } from '@rook-scale/core/table';
import { showPercent } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';

export const scoreText = (score: number): string =>
  Math.abs(score) < 10 ? showFixed(score, 3) : showDigits(score, 4);

/** "Age (71 and 63)"; of levels the one whose share differs most. */
export function apartText(
  { column, of }: Differing['apart'][number],
  dictionary: Dictionary,
  labelOf: (name: string) => string,
): string {
  const [one, other] = of;
  if (one.mean !== undefined && other.mean !== undefined)
    return `${labelOf(column)} (mean ${short(one.mean)} and ${short(other.mean)})`;
  const levels = dictionary.find(({ name }) => name === column)?.levels ?? [];
  const shares = (one.counts ?? []).map((count, k) => [
    count / one.known,
    (other.counts?.[k] ?? 0) / other.known,
  ]);
  const most = shares.reduce(
    (best, [a, b], k) => (Math.abs(a - b) > Math.abs(shares[best][0] - shares[best][1]) ? k : best),
    // Of two levels the second is told: it is the one that is looked for.
    shares.length === 2 ? 1 : 0,
  );
  const [a, b] = shares[most];
  return `${labelOf(column)} (${levels[most] ?? 'a level'} in ${showPercent(a)} and ${showPercent(b)})`;
}

const short = (value: number) => showDigits(value, 3);
