import type { Inputs } from '../../inputs/index.ts';
import type { DensityShown, Facet } from '../facets.ts';
import type { Model } from './naive-bayes.ts';
import { drawnOf } from '../shared/index.ts';

/** How each input is spread in each level, the most telling first. */
export function densitiesFacet(inputs: Inputs, { levels, priors, kept, kind }: Model): Facet {
  const shown = kept.map(({ input, spread }): DensityShown => {
    const column = inputs.columns[inputs.names.indexOf(input)];
    const { shares, ...drawn } = drawnOf(spread, column);
    return {
      input,
      apart: apartOf(shares, priors),
      ...drawn,
      ...(spread.by === 'counts' && { shares }),
    };
  });
  return {
    kind: 'densities',
    value: {
      outcome: kind,
      levels,
      priors,
      inputs: shown.sort((one, other) => other.apart - one.apart),
    },
  };
}

/** How far levels are apart: the share of a level's patients that another mix would have elsewhere. */
function apartOf(shares: number[][], priors: number[]): number {
  const together = shares[0].map((_, k) =>
    shares.reduce((sum, own, level) => sum + priors[level] * own[k], 0),
  );
  return shares.reduce(
    (sum, own, level) =>
      sum +
      (priors[level] / 2) * own.reduce((away, one, k) => away + Math.abs(one - together[k]), 0),
    0,
  );
}
