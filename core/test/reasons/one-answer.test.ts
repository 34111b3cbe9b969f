import { describe, expect, it } from 'vitest';
import { explain, isOrderCertain, strongest, takenRows } from '../../src/reasons/index.ts';
import { familyOf, settingsSchema } from '../../src/families/index.ts';
import { fitAll, modelOf, outcomes, predictors, wholeOf } from '../tuning/made-up-patients.ts';

describe('contributions of a patient', () => {
  // Neighbours are no sum of predictors: with more than six, contributions are sampled.
  const wide = ['first', 'second'].flatMap((copy) =>
    predictors.map((column) => ({ ...column, name: `${column.name}, ${copy}` })),
  );
  const id = 'nearest-patients';
  const settings = settingsSchema(familyOf(id).description.settings).parse({
    neighboursBy: 'given',
    neighbours: 9,
  });
  const { model: saved, preparation } = wholeOf(
    fitAll(outcomes.event, { family: id, settings, seed: 5 }, wide),
  );
  const model = { ...modelOf, preparation, family: { id, settings, saved } };
  const among = (rows: number[]) => wide.map((column) => takenRows(column, rows));
  const explained = (rows: number[]) => explain(model, { kind: 'event' }, among(rows), wide, 1);

  it('are the same whether asked for alone, with others, or in another order', () => {
    const together = explained([0, 3, 7, 12, 20, 41]);
    expect(together.way).toBe('drawn');
    for (const [rows, place] of [
      [[7], 0],
      [[41, 7], 1],
      [[12, 20, 7, 0], 2],
    ] as const)
      expect(explained([...rows]).patients[place]).toEqual(together.patients[2]);
    expect(strongest(explained([7]), explained([7]).patients[0], 3)).toEqual(
      strongest(together, together.patients[2], 3),
    );
  });
});

describe('the order of contributions', () => {
  it('is certain where they are exact, or far enough apart', () => {
    expect(isOrderCertain({ base: 0, added: [0.3, 0.2, 0.2] }, 3)).toBe(true);
    const errors = [0.01, 0.01, 0.01, 0.01];
    expect(isOrderCertain({ base: 0, added: [0.5, -0.4, 0.3, 0.1], errors }, 3)).toBe(true);
    expect(isOrderCertain({ base: 0, added: [0.5, -0.49, 0.3, 0.1], errors }, 3)).toBe(false);
    expect(isOrderCertain({ base: 0, added: [0.5, -0.4, 0.3, 0.29], errors }, 3)).toBe(false);
    expect(isOrderCertain({ base: 0, added: [0.5, -0.4], errors: [0.01, 0.01] }, 3)).toBe(true);
  });
});
