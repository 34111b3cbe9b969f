import { describe, expect, it } from 'vitest';
import { familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { fitAll, outcomes, predictors, wholeOf } from './made-up-patients.ts';

describe('predictors of a fitted model', () => {
  const sizeOf = (family: string, said: Settings) => {
    const settings = settingsSchema(familyOf(family).description.settings).parse(said);
    return wholeOf(fitAll(outcomes.event, { family, settings, seed: 5 })).size!;
  };

  it('are those that have a part in the prediction, however many inputs are made of them', () => {
    // One level of depth asks about one predictor.
    expect(sizeOf('decision-tree', { depth: 1, size: 'all' })).toMatchObject({ predictors: 1 });
    expect(sizeOf('logistic', {}).predictors).toBe(predictors.length);
    // So strong a lasso keeps the one predictor that is closest to the outcome.
    const lasso = sizeOf('penalised', { mix: 1, strengthBy: 'given', strength: 0.12 });
    expect(lasso.predictors).toBeLessThan(predictors.length);
    expect(lasso.predictors).toBeGreaterThan(0);
    expect(sizeOf('penalised', { strengthBy: 'given', strength: 50 }).predictors).toBe(0);
    expect(sizeOf('random-forest', { trees: 20 }).predictors).toBe(predictors.length);
  });
});
