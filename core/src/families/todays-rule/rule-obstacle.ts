import type { OutcomeKind } from '../../outcome/index.ts';

/** What a rule gives, over the patients at hand. */
export interface Given {
  type: 'number' | 'coded' | 'text';
  /** Levels that some patient has. */
  levels?: string[];
  /** Least and greatest number; absent where none is known. */
  range?: [number, number];
}

/** Why a rule cannot stand for the outcome, in a sentence; undefined where it can. @param levels of the outcome */
export function ruleObstacle(
  given: Given,
  outcome: { kind: OutcomeKind; levels?: string[] },
): string | undefined {
  return obstacles[outcome.kind](given, outcome.levels ?? []);
}

const obstacles: { [K in OutcomeKind]: (given: Given, levels: string[]) => string | undefined } = {
  event({ type, levels = [], range }) {
    if (type === 'number') {
      if (!range) return nothingKnown;
      const [least, greatest] = range;
      if (least >= 0 && greatest <= 1) return undefined;
      return `The rule gives numbers from ${short(least)} to ${short(greatest)}, and a risk lies between 0 and 1. Put a limit, as in score >= 5, or divide a score by the most it can be.`;
    }
    if (type === 'coded' && levels.every((level) => level === 'yes' || level === 'no'))
      return levels.length > 0 ? undefined : nothingKnown;
    return 'The rule must give yes or no, or a risk from 0 to 1. Compare a text, as in grade = "high".';
  },
  levels({ type, levels = [] }, known) {
    if (type !== 'coded') return `The rule must give one of the levels: ${known.join(', ')}.`;
    const others = levels.filter((level) => !known.includes(level));
    if (others.length === 0) return levels.length > 0 ? undefined : nothingKnown;
    return `The rule gives ${others.slice(0, 3).join(', ')}, and the levels of the outcome are ${known.join(', ')}. Use if(…) to give one of these.`;
  },
  number({ type, range }) {
    if (type !== 'number') return 'The rule must give a number.';
    return range ? undefined : nothingKnown;
  },
};

const nothingKnown = 'The rule gives nothing for any patient.';

const short = (value: number) => String(Number(value.toPrecision(4)));
