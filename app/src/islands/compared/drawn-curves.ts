import type { Curves } from '@rook-scale/core/comparing';
import type { CandidateLine } from '../../contract/candidates.ts';
import { marksOfLevels } from '../../components/index.ts';

/** A candidate as it is drawn: told by its letter and its dashes, and by its colour besides. */
export interface DrawnCurves {
  line: CandidateLine;
  letter: string;
  colour: string;
  dash: string;
  curves: Curves;
}

const dashes = ['', '8 3', '2 3', '9 3 2 3', '14 4', '5 2 1 2', '1 5', '3 6'];

/** A, B … of candidates in their order, by id. */
export const lettersOf = (lines: CandidateLine[]): Map<string, string> =>
  new Map(lines.map(({ id }, i) => [id, String.fromCharCode(65 + i)]));

/** Each with its letter and its marks; without those whose curves are not there yet. */
export function drawnFrom(lines: CandidateLine[], curves: (Curves | undefined)[]): DrawnCurves[] {
  const letters = lettersOf(lines);
  const marks = marksOfLevels([...letters.values()], false);
  return lines.flatMap((line, i): DrawnCurves[] => {
    const own = curves[i];
    if (!own) return [];
    const dash = dashes[i % dashes.length];
    return [{ line, letter: letters.get(line.id)!, colour: marks[i].colour, dash, curves: own }];
  });
}
