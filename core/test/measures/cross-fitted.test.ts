import { describe, expect, it } from 'vitest';
import { crossValidated, rankRisks, referenceCost } from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';

describe('the cost at a cutoff of the other folds', () => {
  const costs = { missedCost: 5, falseAlarmCost: 1 };

  it('is on average no less than that of the reference where scores are noise', () => {
    const draw = randomStream(31, 'noise');
    let [apparent, corrected, reference] = [0, 0, 0];
    for (let round = 0; round < 200; round++) {
      const scores = Float64Array.from({ length: 150 }, () => draw.uniform());
      const events = scores.map(() => Number(draw.uniform() < 0.2));
      const folds = scores.map((_, i) => i % 5);
      const found = crossValidated(scores, events, folds, { rule: 'cheapest' }, costs);
      apparent += found.costPerThousand;
      corrected += found.costCrossFitted!;
      reference += referenceCost(rankRisks(scores, events), costs);
    }
    expect(apparent).toBeLessThan(0.99 * reference);
    expect(corrected).toBeGreaterThanOrEqual(reference);
  });

  it('is absent for a cutoff set by hand, and where there is one fold', () => {
    const scores = [0.1, 0.4, 0.6, 0.9];
    const found = (folds: number[], rule: Parameters<typeof crossValidated>[3]) =>
      crossValidated(Float64Array.from(scores), [0, 1, 0, 1], folds, rule, costs).costCrossFitted;
    expect(found([0, 1, 0, 1], { rule: 'hand', cutoff: 0.5 })).toBeUndefined();
    expect(found([0, 0, 0, 0], { rule: 'cheapest' })).toBeUndefined();
    expect(found([0, 1, 0, 1], { rule: 'cheapest' })).toBeGreaterThanOrEqual(0);
  });
});
