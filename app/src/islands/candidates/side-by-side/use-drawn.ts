import { useAddress } from '../../../browser/address.ts';
import { lettersOf } from '../../compared/index.ts';
import type { CandidateLine } from '../../../contract/candidates.ts';

/** Candidates on one chart at most: more lines are not told apart. */
export const mostDrawn = 8;

/** Candidates that are drawn on the same charts, each by its letter. */
export interface Drawn {
  lines: CandidateLine[];
  /** A, B … of those that are drawn, by id. */
  letters: Map<string, string>;
  /** Draws one too, or no longer. */
  turn: (line: CandidateLine) => void;
}

/** Only what was fitted on the design in force has patients that are the same for all. */
export const canBeDrawn = ({ state, results, outOfDate }: CandidateLine): boolean =>
  state === 'fitted' && results !== undefined && !outOfDate;

/** Which candidates are drawn, by their numbers in the address: the first is the base. */
export function useDrawn(all: CandidateLine[]): Drawn {
  const [asked, setAsked] = useAddress('drawn');
  const numbers = (asked ?? '').split('-').filter(Boolean).map(Number);
  const lines = numbers
    .flatMap((number) => all.filter((line) => line.number === number && canBeDrawn(line)))
    .slice(0, mostDrawn);
  return {
    lines,
    letters: lettersOf(lines),
    turn({ number }) {
      const now = lines.map((line) => line.number);
      const next = now.includes(number) ? now.filter((one) => one !== number) : [...now, number];
      setAsked(next.slice(0, mostDrawn).join('-') || undefined, 'replace');
    },
  };
}
