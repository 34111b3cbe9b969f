import type { Coefficient } from '../facets.ts';
import { waldLine, type ClusterVariances } from '../shared/index.ts';

/** Wald statistics of each kept coefficient. A term that the outcome is separated by has none. */
export function describeCoefficients(model: {
  terms: string[];
  estimates: number[];
  covariance: (number | null)[];
  keptInputs: boolean[];
  separated?: boolean[];
  byCluster?: ClusterVariances;
}): Coefficient[] {
  const size = model.terms.length;
  return model.terms.flatMap((term, j): Coefficient[] => {
    if (j > 0 && !model.keptInputs[j - 1]) return [];
    if (model.separated?.[j]) return [{ term }];
    const { byCluster } = model;
    const variance = byCluster ? byCluster.variances[j] : (model.covariance[j * size + j] ?? NaN);
    return [waldLine(term, model.estimates[j], variance, byCluster && byCluster.clusters - 1)];
  });
}
