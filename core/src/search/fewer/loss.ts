import {
  numbersOf,
  ofKind,
  predictionsOf,
  type Outcome,
  type Predictions,
} from '../../outcome/index.ts';

/** A risk that is surer than this counts as this, so that nobody outweighs all others. */
const surest = 1e-3;

/**
 * Mean loss: minus the logarithm of the share that was given to what happened, or the squared distance of
 * a number.
 */
export function meanLoss(outcome: Outcome, predictions: Predictions): number {
  const losses = lossOf[outcome.kind](outcome, predictions);
  const { length } = outcome.values;
  let sum = 0;
  for (let i = 0; i < length; i++) sum += losses(i);
  return sum / length;
}

const lossOf: Record<Outcome['kind'], (o: Outcome, p: Predictions) => (i: number) => number> = {
  event(outcome, predictions) {
    const { values } = ofKind(outcome, 'event');
    const { risks } = predictionsOf(predictions, 'event');
    return (i) => unlikely(values[i] === 1 ? risks[i] : 1 - risks[i]);
  },
  levels(outcome, predictions) {
    const { values } = ofKind(outcome, 'levels');
    const shares = numbersOf(predictions);
    const { length } = predictionsOf(predictions, 'levels').levels;
    return (i) => unlikely(shares[i * length + values[i]]);
  },
  number(outcome, predictions) {
    const told = numbersOf(predictions);
    return (i) => (told[i] - outcome.values[i]) ** 2;
  },
};

const unlikely = (share: number) => -Math.log(Math.min(1, Math.max(surest, share)));
