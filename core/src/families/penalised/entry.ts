import type { Inputs } from '../../inputs/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import { FitObstacle } from '../family.ts';
import { outcomeUnit, standardised } from './outcome-unit.ts';
import { followPath } from './path.ts';
import { strengthRange, strengthsFrom } from './strengths.ts';

/** Strengths from the strongest to a thousandth of it: few enough to be quick, and few inputs come in together. */
const steps = 200;
const weakest = 1e-3;

/**
 * At which place each input comes in on the lasso's path, from 0; of several that come in at the same
 * strength the one with the greater coefficient per SD first. Infinity for those that never do.
 */
export function entryOrder(inputs: Inputs, outcome: Outcome): number[] {
  const task = { inputs, outcome: standardised(outcome, outcomeUnit(outcome)), mix: 1 };
  const range = inputs.columns.length > 0 ? strengthRange(task) : undefined;
  if (!range) return inputs.columns.map(() => Infinity);
  const { strongest } = range;
  const points = followPath(task, strengthsFrom(strongest, weakest * strongest, steps), true);
  if (!points.every((blocks) => blocks.every((own) => own.every(Number.isFinite))))
    throw new FitObstacle('The path lost all digits: inputs of very different size.');
  const spreads = inputs.columns.map(spreadOf);
  const sizeAt = (place: number, j: number) =>
    spreads[j] * Math.max(...points[place].map((own) => Math.abs(own[j + 1])));
  const entered = spreads.flatMap((_, j) => {
    const at = points.findIndex((_point, place) => sizeAt(place, j) > 0);
    return at < 0 ? [] : [{ j, at, size: sizeAt(at, j) }];
  });
  const places = inputs.columns.map(() => Infinity);
  entered
    .sort(
      (a, b) => a.at - b.at || b.size - a.size || (inputs.names[a.j] < inputs.names[b.j] ? -1 : 1),
    )
    .forEach(({ j }, place) => (places[j] = place));
  return places;
}

function spreadOf(column: Float64Array): number {
  const mean = column.reduce((sum, value) => sum + value, 0) / column.length;
  return Math.sqrt(column.reduce((sum, value) => sum + (value - mean) ** 2, 0) / column.length);
}
