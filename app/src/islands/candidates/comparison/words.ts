import type { Compared, ComparedMeasure } from '@rook-scale/core/comparing';
import { plural, showCount } from '../../../browser/format.ts';
import { figureOf, signed } from '../../compared/index.ts';

/** What a candidate is called in a sentence, and how many columns it looks at. */
export interface Named {
  name: string;
  uses: string[];
}

/** Whether an interval holds no difference at all. */
const mayBeChance = ({ interval }: ComparedMeasure): boolean =>
  !interval || (interval[0] <= 0 && interval[1] >= 0);

/** Which of both costs less, whether that may be chance, and which is the simpler one. */
export function verdictOf({ measures }: Compared, one: Named, other: Named): string {
  const cost = measures.find(({ id }) => id === 'cost')!;
  const [own, theirs] = cost.values.map((value) => figureOf('cost', value));
  const [low, high] = cost.interval!.map((value) => signed('cost', value));
  const begin = `${one.name} costs ${own} per 1,000 and ${other.name} costs ${theirs}; the difference, ${signed('cost', cost.difference)} (${low} to ${high}),`;
  if (!mayBeChance(cost)) return `${begin} is more than chance explains.`;
  const [few, many] = one.uses.length <= other.uses.length ? [one, other] : [other, one];
  const simpler =
    few.uses.length > 0 && few.uses.length < many.uses.length
      ? ` ${few.name}, with ${plural(few.uses.length, 'predictor')} instead of ${many.uses.length}, does as well.`
      : '';
  return `${begin} may be chance.${simpler}`;
}

/** How the differences were found. */
export function captionOf({ patients, times, onlyRight }: Compared, one: Named, other: Named) {
  const who = `the same ${plural(patients, 'development patient')} out of fold`;
  const areas =
    times === 1
      ? 'AUC of all folds together, after DeLong'
      : `AUC from the folds of ${times} times, corrected for the patients that they share`;
  const calls = onlyRight
    ? ` Only ${one.name} calls ${showCount(onlyRight[0])} of them rightly, only ${other.name} ${showCount(onlyRight[1])} (McNemar’s test).`
    : '';
  return `First less second, each at the cutoff chosen, in ${who}; intervals are 95%. Cost and rates by drawing patients anew; ${areas}. The last column is corrected for the number of comparisons (Holm).${calls}`;
}
