import { describe, expect, it } from 'vitest';
import { areaUnderCurve } from '../../src/measures/index.ts';
import {
  applyPreparation,
  effectsLike,
  type FittedPreparation,
  type PredictorColumn,
} from '../../src/preparation/index.ts';
import { familyOf } from '../../src/families/index.ts';
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
      expect(again).toEqual(results[i]);
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
