import { describe, expect, it } from 'vitest';
import {
  applyPreparation,
  arrangedStepSchema,
  choosePredictors,
  effectsOf,
  fitPreparation,
  type ArrangedStep,
  type PredictorColumn,
} from '../../src/preparation/index.ts';
import { eventOutcome } from '../families/fit-event.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

const ask = (step: Record<string, unknown>): ArrangedStep => arrangedStepSchema.parse(step);

const numberColumn = (name: string, values: Float64Array): PredictorColumn => ({
  name,
  type: 'number',
  values,
});

/** The analyst's steps alone, learned on these rows: the columns as they leave the last step. */
function run(columns: PredictorColumn[], steps: Record<string, unknown>[], rows?: number[]) {
  const all = rows ?? Array.from({ length: lengthOf(columns[0]) }, (_, row) => row);
  const outcome = eventOutcome(all.map((row) => row % 2));
  return { all, ...fitPreparation(columns, all, outcome, steps.map(ask)) };
}

const lengthOf = (column: PredictorColumn) =>
  column.type === 'number' ? column.values.length : column.codes.length;

describe('filling gaps', () => {
  it('by mean and median, as a general-purpose library does (urine)', () => {
    const { results } = loadValues<{
      results: { column: string; n_missing: number; median: number; mean: number }[];
    }>('imputation_urine');
    const table = loadTable('urine');
    const columns = results.map(({ column }) => numberColumn(column, numbers(table, column)));
    for (const how of ['mean', 'median'] as const) {
      const { preparation } = run(columns, [{ step: 'fill', columns: 'all', how }]);
      for (const expected of results) {
        const found = effectsOf(preparation).find(
          (effect) => effect.what === 'filled' && effect.column === expected.column,
        );
        expect(found).toMatchObject({ gaps: expected.n_missing });
        expect((found as { number: number }).number).toBeCloseTo(expected[how], 12);
      }
    }
  });

  it('by chained regressions, round by round (pbc)', () => {
    interface Values {
      columns: string[];
      results: {
        means: number[];
        cells: { row: number; column: string; chained_by_round: number[] }[];
        column_population_sd_after_chained: number[];
      };
    }
    const { columns: names, results } = loadValues<Values>('chained_imputation_pbc');
    const table = loadTable('pbc');
    const columns = names.map((name) => numberColumn(name, numbers(table, name)));
    for (const rounds of [1, 3, 5]) {
      const step = {
        step: 'fill',
        columns: 'all',
        how: 'chained regressions',
        rounds,
        mark: false,
      };
      const { inputs } = run(columns, [step]);
      for (const { row, column, chained_by_round } of results.cells) {
        const j = names.indexOf(column);
        const found = inputs.columns[inputs.names.indexOf(column)][row - 1];
        // The tolerance that the values come with: 1e-7 of the column's SD.
        const slack = 1e-7 * results.column_population_sd_after_chained[j];
        expect(Math.abs(found - chained_by_round[rounds - 1])).toBeLessThan(slack);
      }
    }
  });

  it('fills patients of later as it filled those it learned from', () => {
    const table = loadTable('pbc');
    const names = ['age', 'bili', 'chol', 'albumin', 'copper'];
    const columns = names.map((name) => numberColumn(name, numbers(table, name)));
    const { preparation, inputs, all } = run(columns, [
      { step: 'fill', columns: 'all', how: 'chained regressions', mark: false },
    ]);
    expect(applyPreparation(preparation, columns, all)).toEqual(inputs);
  });
});

it('restricted cubic splines: knots and basis beside a general-purpose regression library', () => {
  const { results } = loadValues<{
    results: { column: string; n_knots: number; knots: number[]; basis_first5: number[][] }[];
  }>('restricted_cubic_birthwt');
  const table = loadTable('birthwt');
  for (const { column, n_knots, knots, basis_first5 } of results) {
    const columns = [numberColumn(column, numbers(table, column))];
    const { preparation, inputs } = run(columns, [
      { step: 'splines', columns: [column], knots: n_knots },
    ]);
    const [{ learned }] = preparation.steps as { learned: { knots: number[] }[] }[];
    learned[0].knots.forEach((knot, j) => expect(knot).toBeCloseTo(knots[j], 10));
    basis_first5.forEach((row, i) =>
      row.forEach((value, j) =>
        expect(Math.abs(inputs.columns[j][i] - value)).toBeLessThan(1e-9 * Math.max(1, value)),
      ),
    );
  }
});

describe('principal components', () => {
  it('of wine: shares, loadings and scores', () => {
    interface Values {
      columns: string[];
      results: {
        eigenvalues: number[];
        loadings: { component: number; loadings: Record<string, number> }[];
        scores_first5: number[][];
        components_for_90_percent: number;
      };
    }
    const { columns: names, results } = loadValues<Values>('pca_wine');
    const table = loadTable('wine');
    const columns = names.map((name) => numberColumn(name, numbers(table, name)));
    const { preparation, inputs } = run(columns, [
      { step: 'components', columns: 'all', keep: { share: 0.9 } },
    ]);
    expect(inputs.names).toHaveLength(results.components_for_90_percent);
    const made = effectsOf(preparation).flatMap((one) => (one.what === 'made' ? [one.share!] : []));
    made.forEach((share, k) =>
      expect(share).toBeCloseTo(results.eigenvalues[k] / names.length, 10),
    );
    results.scores_first5.forEach((scores, i) =>
      inputs.columns.forEach((column, k) => expect(column[i]).toBeCloseTo(scores[k], 7)),
    );
  });
});

it('what is learned on some patients and done to others: scaling, clipping, components (urine)', () => {
  interface Values {
    predictors: string[];
    training_rows: number[];
    shown_rows: number[];
    results: {
      robust_scaled: number[][];
      clipped: number[][];
      scores: number[][];
    };
  }
  const { predictors, training_rows, shown_rows, results } =
    loadValues<Values>('preparation_urine');
  const table = loadTable('urine');
  const raw = predictors.map((name) => numbers(table, name));
  // Rows are counted among the complete ones.
  const complete = Array.from(raw[0].keys()).filter((i) =>
    raw.every((one) => !Number.isNaN(one[i])),
  );
  const columns = predictors.map((name, j) =>
    numberColumn(
      name,
      Float64Array.from(complete, (i) => raw[j][i]),
    ),
  );
  const [learnt, shown] = [training_rows, shown_rows].map((some) => some.map((row) => row - 1));
  const cases: [Record<string, unknown>, number[][]][] = [
    [{ step: 'rescale', columns: 'all', how: 'median and quartiles' }, results.robust_scaled],
    [{ step: 'clip', columns: 'all', to: 'quantiles', share: 0.025 }, results.clipped],
    [{ step: 'components', columns: 'all', keep: { number: 6 } }, results.scores],
  ];
  for (const [step, expected] of cases) {
    const { preparation } = run(columns, [step], learnt);
    const { columns: made } = applyPreparation(preparation, columns, shown);
    expected.forEach((row, i) =>
      row.forEach((value, j) => expect(made[j][i]).toBeCloseTo(value, 8)),
    );
  }
});

it('the share of cases of each level, drawn towards that of all (low birth weight)', () => {
  interface Values {
    results: { m: number; overall: number; values: Record<string, number> }[];
  }
  const { results } = loadValues<Values>('target_encoding_birthwt');
  const table = loadTable('birthwt');
  const [race, smoke, low] = ['race', 'smoke', 'low'].map((name) => numbers(table, name));
  const cells = Array.from(race, (value, i) => `${value}/${smoke[i]}`);
  const levels = [...new Set(cells)].sort();
  const column: PredictorColumn = {
    name: 'cell',
    type: 'coded',
    levels,
    codes: Int32Array.from(cells, (cell) => levels.indexOf(cell)),
  };
  const all = cells.map((_, i) => i);
  for (const { m, values } of results) {
    const step = ask({ step: 'code levels', columns: 'all', how: 'case share', shrinkage: m });
    const { inputs } = fitPreparation([column], all, eventOutcome([...low]), [step]);
    cells.forEach((cell, i) => expect(inputs.columns[0][i]).toBeCloseTo(values[cell], 12));
  }
});

it('powers are those that the survey shows, and are checked there', () => {
  const columns = choosePredictors(loadTable('birthwt'), ['lwt']);
  const { preparation } = run(columns, [{ step: 'reshape', columns: 'all', how: 'Box–Cox' }]);
  const { results } = loadValues<{
    results: { kind: string; column: string; multiplied_by: string; lam: number }[];
  }>('power_transformation_birthwt');
  const expected = results.find(
    (one) => one.kind === 'Box-Cox' && one.column === 'lwt' && one.multiplied_by === '1',
  )!;
  expect(effectsOf(preparation)[0]).toMatchObject({ what: 'reshaped', how: 'Box–Cox' });
  expect((effectsOf(preparation)[0] as { lambda: number }).lambda).toBeCloseTo(expected.lam, 5);
});
