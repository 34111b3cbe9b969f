import { numbersOf, predictionsOf } from '../../src/outcome/index.ts';
import { describe, expect, it } from 'vitest';
import { developmentCohort, externalCohort } from '../../../demo/index.ts';
import { defaultDesign, divide, type Design } from '../../src/design/index.ts';
import { choosePredictors } from '../../src/preparation/index.ts';
import {
  describePredictors,
  packModel,
  scoreRows,
  unpackModel,
  type Model,
} from '../../src/model/index.ts';
import { alignToModel } from '../../src/screening/index.ts';
import { tableFromText, type Table } from '../../src/table/index.ts';
import { collectOutOfFold, fitPart, planParts } from '../../src/tuning/index.ts';

const recipe = { family: 'logistic', settings: {}, seed: 1 };
const predictors = ['age', 'sex', 'smoking', 'operation', 'egfr', 'albumin', 'crp', 'diuretic'];
const design: Design = { ...defaultDesign, outcome: 'injury_7_days', event: 'yes', predictors };
const cohort = developmentCohort(600);
const table = tableFromText(cohort.header, cohort.rows);
const division = divide(table, design);

/** All parts of a fit on the division above, whatever the table holds by now. */
function fitAll(on: Table) {
  const parts = planParts(division.developmentRows, division.folds, division.heldOutRows);
  return parts.map((part) =>
    fitPart(part, choosePredictors(on, predictors), division.outcome, recipe),
  );
}

function makeModel(on: Table): Model {
  const whole = fitAll(on).at(-1)!;
  return {
    format: 'rook-scale model',
    version: 4,
    study: 'test',
    candidate: 'Logistic regression 1',
    outcome: {
      choice: { kind: 'event', column: 'injury_7_days', event: 'yes' },
      label: '',
      unit: '',
      cases: { kind: 'event' },
    },
    development: {
      patients: division.developmentRows.length,
      events: division.counts.development.events,
    },
    predictors: describePredictors(on, predictors, division.developmentRows),
    preparation: whole.preparation,
    sources: [],
    family: { id: 'logistic', settings: {}, saved: whole.model },
  };
}

const score = (model: Model, on: Table) =>
  predictionsOf(scoreRows(model, alignToModel(model, on).columns, on.rowCount).predictions, 'event')
    .risks;

describe('no leak', () => {
  it('changing every held-out value changes no fitted number', () => {
    const changed = tableFromText(
      cohort.header,
      cohort.rows.map((row, i) =>
        division.heldOutRows.includes(i)
          ? row.map((cell, j) => {
              if (cohort.header[j] === 'reference') return cell;
              return /^-?\d/.test(cell) ? String(Number.parseFloat(cell) * 7 + 1000) : '';
            })
          : row,
      ),
      table.dictionary,
    );
    const [before, after] = [fitAll(table), fitAll(changed)];
    const learned = (results: typeof before) =>
      JSON.stringify(results.map(({ preparation, model }) => ({ preparation, model })));
    expect(learned(after)).toBe(learned(before));
    expect(collectOutOfFold(division.folds, after)).toEqual(
      collectOutOfFold(division.folds, before),
    );
    expect(after.at(-1)!.predictions).not.toEqual(before.at(-1)!.predictions);
    expect(describePredictors(changed, predictors, division.developmentRows)).toEqual(
      describePredictors(table, predictors, division.developmentRows),
    );
  });

  it('each patient is predicted out of fold by a fit that never saw the fold', () => {
    const parts = planParts(division.developmentRows, division.folds, division.heldOutRows);
    const predicted = parts.slice(0, 5).flatMap((part) => Array.from(part.predictRows));
    expect(predicted.sort((a, b) => a - b)).toEqual(Array.from(division.developmentRows));
    for (const part of parts)
      expect(part.learnRows.filter((row) => part.predictRows.includes(row)).length).toBe(0);
  });
});

describe('the model as a file', () => {
  const model = makeModel(table);

  it('gives identical risks after a JSON round trip', () => {
    const { json, bytes } = packModel(model);
    const again = unpackModel({ json: JSON.parse(JSON.stringify(json)), bytes });
    const external = externalCohort(200);
    const later = tableFromText(external.header, external.rows);
    expect(score(again, later)).toEqual(score(model, later));
    expect(score(again, table)).toEqual(score(model, table));
  });

  it('gives the development cohort the risks the fit gave', () => {
    const held = numbersOf(fitAll(table).at(-1)!.predictions);
    const all = score(model, table);
    division.heldOutRows.forEach((row, i) => expect(all[row]).toBe(held[i]));
  });

  it('does not depend on the order of columns, rows or levels in the later file', () => {
    const external = externalCohort(120);
    const straight = score(model, tableFromText(external.header, external.rows));
    const turned = tableFromText(
      [...external.header].reverse(),
      [...external.rows].reverse().map((row) => [...row].reverse()),
    );
    expect(Array.from(score(model, turned)).reverse()).toEqual(Array.from(straight));
  });
});

describe('a later cohort', () => {
  const model = makeModel(table);

  it('has what is missing, new or out of range listed with what is done', () => {
    const header = ['age', 'sex', 'operation', 'egfr', 'albumin', 'ward'];
    const rows = [
      ['70', 'female', 'keyhole', '60', '40', 'A'],
      ['140', 'male', 'bowel', '', '41', 'B'],
    ];
    const { predictors: met, extra } = alignToModel(model, tableFromText(header, rows));
    const of = (name: string) => met.find((one) => one.name === name)!;
    expect(extra).toEqual(['ward']);
    expect(of('operation').newLevels).toEqual([{ level: 'keyhole', rows: 1 }]);
    expect(of('operation').treatment).toMatch(
      /new level "keyhole": treated as not known, filled with the most common level, hip or knee/,
    );
    expect(of('age')).toMatchObject({ above: 1, below: 0, absent: false });
    expect(of('egfr').treatment).toMatch(
      /^1 not known: filled with the median \d+; that it is not known does not count by itself$/,
    );
    expect(of('crp')).toMatchObject({ absent: true });
    expect(of('crp').treatment).toMatch(/not in the file: all 2 rows filled with the median/);
    expect(of('sex').treatment).toBe('');
  });

  it('is scored without a crash or NaN whatever is missing', () => {
    const nothing = tableFromText(['ward'], [['A'], ['B']]);
    const risks = score(model, nothing);
    expect(risks.every((risk) => risk > 0 && risk < 1)).toBe(true);
    expect(risks[0]).toBe(risks[1]);
    expect(score(model, tableFromText(['ward'], [])).length).toBe(0);
  });
});

describe('a later cohort unlike the development patients', () => {
  const model = makeModel(table);

  it('shows in means, in SDs of the development patients, and in shares of levels', () => {
    const { header, rows } = externalCohort(400);
    const { predictors: met } = alignToModel(model, tableFromText(header, rows, table.dictionary));
    const age = met.find((one) => one.name === 'age')!.shift!;
    const known = model.predictors.find((one) => one.name === 'age')!;
    expect(age.then).toBe(known.mean);
    expect(age.size).toBeCloseTo((age.now - age.then) / known.sd!, 12);
    expect(age.size).toBeGreaterThan(0.1);
    const operation = met.find((one) => one.name === 'operation')!.shift!;
    expect(operation.level).toBeDefined();
    expect(operation.size).toBeGreaterThan(0);
    expect(operation.size).toBeLessThan(1);
  });

  it('does not show in the development patients themselves, nor in a handful', () => {
    const own = tableFromText(
      cohort.header,
      Array.from(division.developmentRows, (row) => cohort.rows[row]),
      table.dictionary,
    );
    for (const { shift } of alignToModel(model, own).predictors)
      expect(Math.abs(shift!.size)).toBeLessThan(1e-9);
    const few = tableFromText(cohort.header, cohort.rows.slice(0, 5), table.dictionary);
    expect(alignToModel(model, few).predictors.every((one) => one.shift === undefined)).toBe(true);
  });
});
