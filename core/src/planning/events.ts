import { accepted, type Criterion } from './criterion.ts';

export interface EventPlan {
  /** Parameters that are estimated beside the intercept: model inputs. */
  parameters: number;
  /** Share of patients who have the event, 0 < share < 1. */
  share: number;
  /** What the model is expected to reach: R² of Cox & Snell, above 0 and below its maximum. */
  coxSnell: number;
}

/** Parameters up to which the study behind the fourth criterion went (van Smeden et al. 2019). */
const mostSimulated = 30;

/** 0.975 quantile as the paper prints it. */
const printed = 1.96;

/**
 * Patients needed to develop a model of a yes/no outcome: Riley et al. (2020), BMJ 368:m441, steps 1 to
 * 4; Riley et al. (2019), Statistics in Medicine 38:1276; step 2 of the former by van Smeden et al.
 * (2019), Statistical Methods in Medical Research 28:2455.
 */
export function enoughForEvents({ parameters, share, coxSnell }: EventPlan, allow = accepted) {
  const shrunk = (factor: number) => parameters / ((factor - 1) * Math.log(1 - coxSnell / factor));
  const factorForOptimism = coxSnell / (coxSnell + allow.optimism * largestCoxSnell(share));
  const criteria: Criterion[] = [
    upTo('shrinkage', shrunk(allow.shrinkage)),
    upTo('optimism', shrunk(factorForOptimism)),
    upTo('overall risk', (printed / allow.margin) ** 2 * share * (1 - share)),
  ];
  if (parameters <= mostSimulated)
    criteria.push(
      upTo(
        'error of risks',
        Math.exp(
          (-0.508 +
            0.259 * Math.log(share) +
            0.504 * Math.log(parameters) -
            Math.log(allow.riskError)) /
            0.544,
        ),
      ),
    );
  return criteria;
}

/** The largest R² of Cox & Snell that an outcome of this share allows. */
export function largestCoxSnell(share: number): number {
  return 1 - (share ** share * (1 - share) ** (1 - share)) ** 2;
}

const upTo = (id: Criterion['id'], exact: number): Criterion => ({
  id,
  exact,
  patients: Math.ceil(exact),
});
