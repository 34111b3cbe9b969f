import { chiSquareUpperTail } from '../numeric/index.ts';
import { facetOf, type Facet } from './facets.ts';
import { slopesOf } from './shared/index.ts';

/** What of a fit decides whether another is nested in it. */
export interface FitShown {
  /** Names of its inputs. */
  inputs: string[];
  facets: Facet[];
}

/** Whether what one fit has beyond another makes it fit better than chance would. */
export interface RatioTest {
  /** Twice the difference of the log-likelihoods. */
  chiSquare: number;
  degrees: number;
  p: number;
  /** Inputs that only the larger has. */
  more: string[];
}

/**
 * Likelihood-ratio test of two fits of one family on the same patients, of which one has all inputs of
 * the other and more: Wilks (1938), Annals of Mathematical Statistics 9:60-62. Undefined where they are
 * not nested, or of other patients, or no likelihood is known.
 */
export function ratioTest(larger: FitShown, smaller: FitShown): RatioTest | undefined {
  const [big, small] = [larger, smaller].map(({ facets }) => likelihoodOf(facets));
  if (!big || !small || big.patients !== small.patients) return undefined;
  const has = new Set(larger.inputs);
  if (!smaller.inputs.every((input) => has.has(input))) return undefined;
  const less = new Set(smaller.inputs);
  const more = larger.inputs.filter((input) => !less.has(input));
  const degrees = big.slopes - small.slopes;
  if (more.length === 0 || degrees <= 0) return undefined;
  // A maximum that was not quite reached must not make it negative.
  const chiSquare = Math.max(0, 2 * (big.logLikelihood - small.logLikelihood));
  return { chiSquare, degrees, p: chiSquareUpperTail(chiSquare, degrees), more };
}

function likelihoodOf(facets: Facet[]) {
  const likelihood = facetOf(facets, 'likelihood');
  // What was not made greatest says nothing by how much less it is.
  if (likelihood?.penalised !== undefined) return undefined;
  if (likelihood) {
    const { patients, logLikelihood } = likelihood;
    return { patients, logLikelihood, slopes: slopesOf(likelihood) };
  }
  const variance = facetOf(facets, 'variance');
  if (!variance) return undefined;
  const { patients, logLikelihood, parameters } = variance;
  return { patients, logLikelihood, slopes: parameters - 1 };
}
