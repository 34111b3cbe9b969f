import { familyOf, settingsSchema } from '../../families/index.ts';
import type { Interval } from '../../measures/index.ts';
import { standardised } from '../associate/index.ts';

/** What one more SD does to the odds of the event, by itself. */
export interface OddsPerSd {
  ratio: number;
  interval: Interval;
}

/**
 * Odds ratio per SD (divisor n) from a logistic regression on this number alone, with its Wald
 * interval. Undefined where there is no such estimate: the outcomes are separated, one of them is
 * missing, or the number does not vary.
 *
 * @param values known numbers
 * @param events 1 or 0, one a value
 */
export function oddsPerSd(values: Float64Array, events: ArrayLike<number>): OddsPerSd | undefined {
  const varies = values.some((value) => value !== values[0]);
  let withEvent = 0;
  for (let i = 0; i < events.length; i++) withEvent += events[i];
  if (!varies || withEvent === 0 || withEvent === events.length) return undefined;
  const inputs = { names: ['x'], columns: [standardised(values)], rowCount: values.length };
  const family = familyOf('logistic');
  const settings = settingsSchema(family.settings).parse({});
  const { coefficients, warnings } = family.fit(inputs, events, settings, { seed: 1 });
  const found = coefficients?.find(({ term }) => term === 'x');
  if (warnings.length > 0 || !found?.oddsRatioInterval || found.oddsRatio === undefined)
    return undefined;
  return { ratio: found.oddsRatio, interval: found.oddsRatioInterval };
}
