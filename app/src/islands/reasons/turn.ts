import type { EffectShown } from '@rook-scale/core/reasons';
import { plural, showNumber } from '../../browser/format.ts';

/** Where the mean curve turns back. */
export interface CurveTurn {
  sentence: string;
  /** The way that it goes by far the most: a direction that could be forced. */
  mainly: 'rising' | 'falling';
}

/** Of the whole height of a curve, what a turn must come to before it is spoken of. */
const least = 0.15;

/** Where the mean curve turns back by more than a little, and how many patients are beyond; undefined where it does not. */
export function turnOf({ at, mean, levels, bands }: EffectShown): CurveTurn | undefined {
  if (levels || at.length < 4) return undefined;
  const height = Math.max(...mean) - Math.min(...mean);
  if (!(height > 0)) return undefined;
  for (const [sign, before, after] of [
    [1, 'rises', 'falls'],
    [-1, 'falls', 'rises'],
  ] as const) {
    const values = mean.map((value) => sign * value);
    const top = values.indexOf(Math.max(...values));
    const rise = values[top] - Math.min(...values.slice(0, top + 1));
    const fall = values[top] - Math.min(...values.slice(top));
    if (rise < least * height || fall < least * height) continue;
    const beyond = bands.reduce(
      (sum, { from, patients }) => sum + (from! >= at[top] ? patients : 0),
      0,
    );
    return {
      sentence: `It ${before} up to ${showNumber(at[top])} and ${after} from there on, where ${plural(beyond, 'patient')} ${beyond === 1 ? 'is' : 'are'} in bands beyond it.`,
      mainly: rise >= fall === (sign === 1) ? 'rising' : 'falling',
    };
  }
  return undefined;
}
