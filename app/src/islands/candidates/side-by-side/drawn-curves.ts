import type { Curves } from '@rook-scale/core/comparing';
import type { CandidateLine } from '../../../contract/candidates.ts';

/** A candidate as it is drawn: told by its letter and its dashes, and by its colour besides. */
export interface DrawnCurves {
  line: CandidateLine;
  letter: string;
  colour: string;
  dash: string;
  curves: Curves;
}

const dashes = ['', '8 3', '2 3', '9 3 2 3', '14 4', '5 2 1 2', '1 5', '3 6'];

export const dashOf = (place: number): string => dashes[place % dashes.length];
