import { normalQuantile, softplus } from '../numeric/index.ts';

/** Steps of the sum over the score, and how far out in SDs it goes. */
const steps = 4000;
const reach = 9;

/**
 * R² of Cox & Snell of a model with this AUC, where the scores of patients with and without the event
 * are normal with the same SD: then the true risk follows from the score, and the mean log-likelihood
 * with it and without it is a sum over the score. The idea, by simulation: Riley et al. (2021),
 * Statistics in Medicine 40:859.
 *
 * @param area AUC, 0.5 < area < 1
 * @param share of patients who have the event, 0 < share < 1
 */
export function coxSnellOfArea(area: number, share: number): number {
  const apart = Math.SQRT2 * normalQuantile(area);
  const base = Math.log(share / (1 - share));
  const width = (2 * reach + apart) / steps;
  let withScore = 0;
  for (let i = 0; i <= steps; i++) {
    const score = -reach + i * width;
    const logit = base + apart * score - apart ** 2 / 2;
    const cases = share * density(score - apart);
    const others = (1 - share) * density(score);
    withScore -= width * (cases * softplus(-logit) + others * softplus(logit));
  }
  const without = share * Math.log(share) + (1 - share) * Math.log(1 - share);
  return 1 - Math.exp(2 * (without - withScore));
}

const density = (x: number) => Math.exp(-(x ** 2) / 2) / Math.sqrt(2 * Math.PI);
