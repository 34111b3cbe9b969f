import { describe, expect, it } from 'vitest';
import { areaUnderCurve } from '../../src/measures/index.ts';
import {
  applyPreparation,
  effectsLike,
  type FittedPreparation,
  type PredictorColumn,
} from '../../src/preparation/index.ts';
import { costTable } from '../../src/design/index.ts';
import { dependsOnCosts, familyOf } from '../../src/families/index.ts';
import { predictionsOf, type Predictions } from '../../src/outcome/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { collectOutOfFold, fitPart, planParts } from '../../src/tuning/index.ts';

const patients = 150;
const draw = randomStream(9, 'parts');
const age = Float64Array.from({ length: patients }, () => 60 + 12 * draw.normal());
const sex = Int32Array.from({ length: patients }, () => Number(draw.uniform() < 0.5));
const events = Int8Array.from(age, (value, i) =>
  Number(draw.uniform() < 1 / (1 + Math.exp(2 - 0.08 * (value - 60) - sex[i]))),
);
const predictors: PredictorColumn[] = [
  { name: 'age', type: 'number', values: age },
  { name: 'sex', type: 'coded', codes: sex, levels: ['female', 'male'] },
];
const rows = Int32Array.from({ length: patients }, (_, i) => i);
const developmentRows = rows.filter((row) => row % 4 !== 0);
const heldOutRows = rows.filter((row) => row % 4 === 0);
const folds = Uint8Array.from(developmentRows, (_, i) => (i * 3) % 5);
const parts = planParts(developmentRows, folds, heldOutRows);
const recipe = { family: 'logistic', settings: {}, seed: 1 };
const risksOf = (predictions: Predictions) => predictionsOf(predictions, 'event').risks;
const results = parts.map((part) =>
  fitPart(part, predictors, { kind: 'event', values: events }, recipe),
);

const meanOf = (preparation: FittedPreparation) => effectsLike(preparation, 'standardised')[0].mean;

describe('the parts of a fit', () => {
  it('are the folds, and the whole that predicts the held-out patients', () => {
    expect(parts.map(({ name }) => name)).toEqual([
      'fold 1',
      'fold 2',
      'fold 3',
      'fold 4',
      'fold 5',
      'all',
    ]);
    for (const part of parts.slice(0, 5)) {
      const both = [...part.learnRows, ...part.predictRows].sort((a, b) => a - b);
      expect(both).toEqual([...developmentRows]);
    }
    expect(parts[5]).toMatchObject({ learnRows: developmentRows, predictRows: heldOutRows });
  });

  it('are those of every time, where patients are dealt several times', () => {
    const again = Uint8Array.from(folds, (_, i) => 5 + ((i * 2 + 1) % 5));
    const both = Uint8Array.from([...folds, ...again]);
    const often = planParts(developmentRows, both, heldOutRows);
    expect(often.map(({ name }) => name)).toEqual([
      ...Array.from({ length: 10 }, (_, i) => `fold ${i + 1}`),
      'all',
    ]);
    expect(often.slice(0, 5)).toEqual(parts.slice(0, 5));
    often.slice(5, 10).forEach(({ learnRows, predictRows }, i) => {
      expect([...learnRows, ...predictRows].sort((a, b) => a - b)).toEqual([...developmentRows]);
      expect([...predictRows]).toEqual(
        [...developmentRows].filter((_, place) => again[place] === 5 + i),
      );
    });
    // Each patient is predicted once each time, by a fit that did not see them.
    const fitted = often.map((part) =>
      fitPart(part, predictors, { kind: 'event', values: events }, recipe),
    );
    const risks = risksOf(collectOutOfFold(both, fitted));
    const { length } = developmentRows;
    expect(risks.slice(0, length)).toEqual(risksOf(collectOutOfFold(folds, results)));
    const alone = planParts(
      developmentRows,
      again.map((fold) => fold - 5),
      heldOutRows,
    ).map((part) => fitPart(part, predictors, { kind: 'event', values: events }, recipe));
    expect(risks.slice(length)).toEqual(
      risksOf(
        collectOutOfFold(
          again.map((fold) => fold - 5),
          alone,
        ),
      ),
    );
  });

  it('take a level that nobody they learned from has as not known, as a later cohort does', () => {
    // Three wards among those who are learned from, and a fourth where only others lie.
    const wards = ['A', 'B', 'C', 'new'];
    const ward = (codes: Int32Array): PredictorColumn => ({
      name: 'ward',
      type: 'coded',
      codes,
      levels: wards,
    });
    const codes = Int32Array.from(rows, (row) => (row % 4 === 0 ? 3 : row % 3));
    const gaps = codes.map((code) => (code === 3 ? -1 : code));
    const fit = (column: PredictorColumn, part: (typeof parts)[number]) =>
      fitPart(part, [predictors[0], column], { kind: 'event', values: events }, recipe);
    const [asLevel, asGap] = [codes, gaps].map((own) => fit(ward(own), parts[5]));
    expect(risksOf(asLevel.predictions)).toEqual(risksOf(asGap.predictions));
    expect(asLevel.preparation).toEqual(asGap.preparation);
    // Nothing is learned of it in a fold that has nobody of it either.
    const some = codes.map((code, row) => (row === developmentRows[0] ? 3 : code));
    const [first] = parts.filter(({ predictRows }) => predictRows.includes(developmentRows[0]));
    const place = first.predictRows.indexOf(developmentRows[0]);
    const known = some.map((code, row) => (row === developmentRows[0] ? -1 : code));
    expect(risksOf(fit(ward(some), first).predictions)[place]).toBe(
      risksOf(fit(ward(known), first).predictions)[place],
    );
  });

  it('put together give each development patient the risk of the fold that left it out', () => {
    const risks = risksOf(collectOutOfFold(folds, results));
    results.slice(0, 5).forEach((result, fold) => {
      const mine = [...folds.keys()].filter((i) => folds[i] === fold);
      expect(mine.map((i) => risks[i])).toEqual([...risksOf(result.predictions)]);
    });
  });

  it('may come in any order and give the same', () => {
    const turned = [...results].reverse();
    expect(collectOutOfFold(folds, turned)).toEqual(collectOutOfFold(folds, results));
  });

  it('learn the preparation anew in each fold', () => {
    const means = results.map(({ preparation }) => meanOf(preparation));
    expect(new Set(means).size).toBe(6);
    results.forEach(({ preparation }, i) => {
      const known = parts[i].learnRows;
      const mean = known.reduce((sum, row) => sum + age[row], 0) / known.length;
      expect(meanOf(preparation)).toBeCloseTo(mean, 10);
    });
  });

  it('may take over what another candidate learned on the same patients, to the last digit', () => {
    for (const [i, { preparation }] of results.entries()) {
      const again = fitPart(
        parts[i],
        predictors,
        { kind: 'event', values: events },
        recipe,
        preparation,
      );
      expect({ ...again, scoreTime: 0 }).toEqual({ ...results[i], scoreTime: 0 });
    }
  });

  it('are models of their own: preparation and family give the same risks again', () => {
    for (const [i, { preparation, model, predictions }] of results.entries()) {
      const inputs = applyPreparation(preparation, predictors, parts[i].predictRows);
      expect(familyOf('logistic').revive(model).predict(inputs)).toEqual(predictions);
    }
  });

  it('say of the whole alone how it does in the patients it was fitted on', () => {
    expect(results.slice(0, 5).every(({ apparentArea }) => apparentArea === undefined)).toBe(true);
    const { preparation, model, apparentArea } = results[5];
    const inputs = applyPreparation(preparation, predictors, developmentRows);
    const risks = risksOf(familyOf('logistic').revive(model).predict(inputs));
    const known = Float64Array.from(developmentRows, (row) => events[row]);
    expect(apparentArea).toBe(areaUnderCurve(risks, known)!.value);
  });
});

describe('a fit that learns by heart', () => {
  it('does better where it was fitted than out of fold', () => {
    const noise: PredictorColumn[] = Array.from({ length: 25 }, (_, j) => ({
      name: `noise ${j}`,
      type: 'number',
      values: Float64Array.from({ length: patients }, () => draw.normal()),
    }));
    const fits = parts.map((part) =>
      fitPart(part, noise, { kind: 'event', values: events }, recipe),
    );
    const outOfFold = risksOf(collectOutOfFold(folds, fits));
    const known = Float64Array.from(developmentRows, (row) => events[row]);
    const honest = areaUnderCurve(outOfFold, known)!.value;
    expect(fits[5].apparentArea! - honest).toBeGreaterThan(0.15);
  });
});

describe('a family that takes gaps and levels as they are', () => {
  const withGaps: PredictorColumn[] = [
    {
      name: 'age',
      type: 'number',
      values: age.map((value, i) => (i % 7 === 1 ? NaN : value)),
    },
    { name: 'sex', type: 'coded', codes: sex, levels: ['female', 'male'] },
  ];
  const fit = (more: object = {}) =>
    fitPart(
      parts[5],
      withGaps,
      { kind: 'event', values: events },
      {
        family: 'decision-tree',
        settings: { size: 'all' },
        seed: 1,
        ...more,
      },
    );
  const stepsOf = ({ preparation }: { preparation: FittedPreparation }) =>
    preparation.steps.map(({ step }) => step);

  it('gets the steps that the analyst arranged and nothing more, but knows which gaps there were', () => {
    const plain = fit();
    expect(stepsOf(plain)).toEqual(['keep gaps']);
    expect(effectsLike(plain.preparation, 'gap kept')).toMatchObject([
      { column: 'age', gaps: developmentRows.filter((row) => row % 7 === 1).length },
      { column: 'sex', gaps: 0 },
    ]);
    expect(plain.preparation.inputs.map(({ kind }) => kind)).toEqual(['number', 'levels']);
    const clip = { step: 'clip', columns: 'all', to: 'quantiles', share: 0.05 };
    expect(stepsOf(fit({ steps: [clip] }))).toEqual(['clip', 'keep gaps']);
  });

  it('gets finished inputs where patients are made up between others', () => {
    const between = { way: 'cases in between', share: 0.5, neighbours: 5 };
    const made = fit({ balancing: between });
    expect(stepsOf(made)).not.toContain('keep gaps');
    expect(made.preparation.inputs.every(({ kind }) => kind !== 'levels')).toBe(true);
    expect(risksOf(made.predictions).every((risk) => risk >= 0 && risk <= 1)).toBe(true);
  });

  it('is blind to whom it does not learn from, gaps and levels and all', () => {
    const others = withGaps.map((column): PredictorColumn =>
      column.type === 'number'
        ? { ...column, values: column.values.map((value, i) => (i % 4 === 0 ? NaN : value)) }
        : { ...column, codes: column.codes.map((code, i) => (i % 4 === 0 ? 1 - code : code)) },
    );
    const again = fitPart(
      parts[5],
      others,
      { kind: 'event', values: events },
      {
        family: 'decision-tree',
        settings: { size: 'all' },
        seed: 1,
      },
    );
    expect(again.model).toEqual(fit().model);
    expect(again.preparation).toEqual(fit().preparation);
  });

  it('depends on costs only under the settings that say so, and on their ratio alone', () => {
    const { description } = familyOf('decision-tree');
    expect(dependsOnCosts(description, { prunedBy: 'error costs', costsInSplits: false })).toBe(
      true,
    );
    expect(dependsOnCosts(description, { prunedBy: 'Brier score', costsInSplits: true })).toBe(
      true,
    );
    expect(dependsOnCosts(description, { prunedBy: 'Brier score' })).toBe(false);
    const at = (missed: number, alarm: number, settings: object = {}) =>
      fit({
        settings: { size: 'best', ...settings },
        costs: [
          [0, alarm],
          [missed, 0],
        ],
      }).model;
    expect(at(4, 1)).toEqual(at(12, 3));
    const plain = { prunedBy: 'Brier score' };
    expect(at(4, 1, plain)).toEqual(at(40, 1, plain));
    // Whoever costs forty times as much is found with fewer questions.
    expect(at(40, 1, { costsInSplits: true })).not.toEqual(at(1, 1, { costsInSplits: true }));
  });
});

describe('what a wrong call costs, as a table', () => {
  const design = { missedCost: 6, falseAlarmCost: 2, levelCosts: null } as const;

  it('has the two costs of yes and no, the design’s table of levels, and none of a number', () => {
    expect(costTable({ ...design, kind: 'event' }, [])).toEqual([
      [0, 2],
      [6, 0],
    ]);
    expect(costTable({ ...design, kind: 'number' }, [])).toBeUndefined();
    expect(costTable({ ...design, kind: 'levels' }, ['a', 'b'])).toBeUndefined();
    const levelCosts = {
      levels: ['b', 'a'],
      costs: [
        [0, 5],
        [1, 0],
      ],
    };
    expect(costTable({ ...design, kind: 'levels', levelCosts }, ['a', 'b', 'c'])).toEqual([
      [0, 1, 1],
      [5, 0, 1],
      [1, 1, 0],
    ]);
  });
});
