import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import type { Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import {
  addLeaves,
  binInputs,
  boost,
  type Boosted,
  type BoostRules,
  type BoostTask,
  type Ensemble,
} from '../../src/trees/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { madePatients, takenEvents, takenInputs } from './made-patients.ts';

interface Node {
  feature?: string;
  threshold?: number;
  leaf?: number;
  left?: Node;
  right?: Node;
}
interface Parameters {
  rounds: number;
  learning_rate: number;
  depth_limit: number;
  l2: number;
  smallest_leaf_weight: number;
}

const birthwt = loadTable('birthwt');
const iris = loadTable('iris');
const low: Outcome = { kind: 'event', values: Int8Array.from(numbers(birthwt, 'low')) };

const birthwtInputs = (): Inputs => {
  const race = numbers(birthwt, 'race');
  const names = ['age', 'lwt', 'race2', 'race3', 'smoke', 'ptl', 'ht', 'ui', 'ftv'];
  const columns = names.map((name) =>
    name.startsWith('race')
      ? race.map((value) => Number(value === Number(name.at(-1))))
      : numbers(birthwt, name),
  );
  return { rowCount: race.length, names, columns };
};

const rulesOf = (parameters: Parameters, more: Partial<BoostRules> = {}): BoostRules => ({
  rounds: parameters.rounds,
  learningRate: parameters.learning_rate,
  depth: parameters.depth_limit,
  l2: parameters.l2,
  leastWeight: parameters.smallest_leaf_weight,
  rowShare: 1,
  columnShare: 1,
  ...more,
});

const boosted = (
  inputs: Inputs,
  outcome: Outcome,
  rules: BoostRules,
  more: Partial<BoostTask> = {},
) => boost({ binned: binInputs(inputs), outcome, seed: 1, ...more }, rules);

function scoresOf({ ensemble, start }: Boosted, inputs: Inputs, upTo?: number): number[][] {
  const groups = start.length;
  const sums = new Float64Array(inputs.rowCount * groups);
  for (let row = 0; row < inputs.rowCount; row++) sums.set(start, row * groups);
  addLeaves(ensemble, inputs, sums, { groups, upTo });
  return Array.from({ length: inputs.rowCount }, (_, row) => [
    ...sums.subarray(row * groups, (row + 1) * groups),
  ]);
}

const risk = (score: number) => 1 / (1 + Math.exp(-score));
const risksOf = (model: Boosted, inputs: Inputs, upTo?: number) =>
  scoresOf(model, inputs, upTo).map(([score]) => risk(score));

function near(found: ArrayLike<number>, expected: number[], within: number): void {
  expected.forEach((value, i) => {
    expect(Math.abs(found[i] - value)).toBeLessThan(within);
  });
}

/** The tree has the questions and leaves of the reference, wherever its nodes stand. */
function sameTree(ensemble: Ensemble, node: number, { names }: Inputs, expected: Node): void {
  if (expected.leaf !== undefined) {
    expect(ensemble.input[node]).toBe(-1);
    expect(ensemble.values[ensemble.child[node]]).toBeCloseTo(expected.leaf, 9);
    return;
  }
  expect(names[ensemble.input[node]]).toBe(expected.feature);
  expect(ensemble.threshold[node]).toBeCloseTo(expected.threshold!, 10);
  sameTree(ensemble, ensemble.child[node], { names } as Inputs, expected.left!);
  sameTree(ensemble, ensemble.child[node] + 1, { names } as Inputs, expected.right!);
}

// Reference values: `values/boosting_*.json`, computed with a compiled general-purpose library in single
// precision and an implementation of its own in double precision; see each file.
describe('boosted trees where every threshold is tried', () => {
  it('grow trees, losses and risks of the reference: low birth weight', () => {
    const { parameters, results } = loadValues<{
      parameters: Parameters;
      results: {
        one_tree: { tree: Node; probabilities_first10_double: number[] };
        all_rounds: {
          tree_last: Node;
          probabilities_first10_double: number[];
          probabilities_first10_library: number[];
          mean_probability_double: number;
        };
        per_round: { round: number; training_log_loss_double: number }[];
        total_gain_share: Record<string, number>;
      };
    }>('boosting_birthwt');
    const inputs = birthwtInputs();
    const model = boosted(inputs, low, rulesOf(parameters, { start: 0 }));
    sameTree(model.ensemble, 0, inputs, results.one_tree.tree);
    sameTree(model.ensemble, model.ensemble.starts[19], inputs, results.all_rounds.tree_last);
    near(risksOf(model, inputs, 1), results.one_tree.probabilities_first10_double, 1e-10);
    const risks = risksOf(model, inputs);
    near(risks, results.all_rounds.probabilities_first10_double, 1e-10);
    near(risks, results.all_rounds.probabilities_first10_library, 1e-6);
    const mean = risks.reduce((sum, one) => sum + one, 0) / risks.length;
    expect(mean).toBeCloseTo(results.all_rounds.mean_probability_double, 10);
    for (const { round, training_log_loss_double: loss } of results.per_round)
      expect(model.losses[round].learned).toBeCloseTo(loss, 10);
    const total = model.gains.reduce((sum, one) => sum + one, 0);
    inputs.names.forEach((name, j) => {
      // Those of the library, in single precision.
      expect(model.gains[j] / total).toBeCloseTo(results.total_gain_share[name] ?? 0, 6);
    });
  });

  it('keep to a direction as the reference does', () => {
    const { parameters, results } = loadValues<{
      parameters: Parameters;
      results: {
        first_tree: Node;
        last_tree: Node;
        probabilities_first10_double: number[];
        training_log_loss_double: number[];
        curve: { values: number[]; probabilities_double: number[] };
      };
    }>('boosting_monotone_birthwt');
    const inputs = birthwtInputs();
    const directions = Int8Array.from(inputs.names, (name) => (name === 'lwt' ? -1 : 0));
    const model = boosted(inputs, low, rulesOf(parameters, { start: 0, directions }));
    sameTree(model.ensemble, 0, inputs, results.first_tree);
    sameTree(model.ensemble, model.ensemble.starts[19], inputs, results.last_tree);
    near(risksOf(model, inputs), results.probabilities_first10_double, 1e-10);
    near(
      model.losses.slice(1).map(({ learned }) => learned),
      results.training_log_loss_double,
      1e-10,
    );
    const medians = inputs.columns.map((column) => column.toSorted()[94]);
    const curve: Inputs = {
      rowCount: results.curve.values.length,
      names: inputs.names,
      columns: inputs.names.map((name, j) =>
        Float64Array.from(results.curve.values, (value) => (name === 'lwt' ? value : medians[j])),
      ),
    };
    near(risksOf(model, curve), results.curve.probabilities_double, 1e-10);
  });

  it('are those of the reference for several levels', () => {
    const { parameters, results } = loadValues<{
      parameters: Parameters;
      results: Record<
        'hessian_2p(1-p)',
        {
          first_round_trees: { tree: Node }[];
          rows: number[];
          scores_double: number[][];
          training_log_loss_double: number[];
        }
      >;
    }>('boosting_softmax_iris');
    const expected = results['hessian_2p(1-p)'];
    const names = ['Sepal.Length', 'Sepal.Width', 'Petal.Length', 'Petal.Width'];
    const inputs = {
      rowCount: 150,
      names,
      columns: names.map((name) => numbers(iris, name)),
    };
    const levels = ['setosa', 'versicolor', 'virginica'];
    const species = Int32Array.from({ length: 150 }, (_, row) => Math.floor(row / 50));
    const outcome: Outcome = { kind: 'levels', values: species, levels, ordered: false };
    const model = boosted(inputs, outcome, rulesOf(parameters, { start: 0 }));
    expected.first_round_trees.forEach(({ tree }, k) => {
      sameTree(model.ensemble, model.ensemble.starts[k], inputs, tree);
    });
    const scores = scoresOf(model, inputs);
    expected.rows.forEach((row, i) => {
      near(scores[row - 1], expected.scores_double[i], 1e-9);
    });
    near(
      model.losses.slice(1).map(({ learned }) => learned),
      expected.training_log_loss_double,
      1e-10,
    );
  });

  it('are those of the reference for a number', () => {
    const { parameters, results } = loadValues<{
      parameters: Parameters;
      results: {
        first_tree: Node;
        last_tree: Node;
        predictions_first10_double: number[];
        training_root_mean_squared_error_double: number[];
      };
    }>('boosting_squared_birthwt');
    const inputs = birthwtInputs();
    const outcome: Outcome = { kind: 'number', values: numbers(birthwt, 'bwt') };
    const model = boosted(inputs, outcome, rulesOf(parameters));
    sameTree(model.ensemble, 0, inputs, results.first_tree);
    sameTree(model.ensemble, model.ensemble.starts[14], inputs, results.last_tree);
    const values = scoresOf(model, inputs).map(([value]) => value);
    near(values, results.predictions_first10_double, 3e-7);
    results.training_root_mean_squared_error_double.forEach((error, i) => {
      expect(Math.sqrt(model.losses[i + 1].learned)).toBeCloseTo(error, 7);
    });
  });
});

const usual: BoostRules = {
  rounds: 40,
  learningRate: 0.2,
  depth: 4,
  l2: 1,
  leastWeight: 1,
  rowShare: 1,
  columnShare: 1,
};

describe('boosted trees', () => {
  it('never go against a forced direction, at any of the other values', () => {
    const { inputs, outcome } = madePatients(1500);
    const model = boosted(inputs, outcome, { ...usual, directions: Int8Array.of(1, -1, 0, 0) });
    const draw = randomStream(2, 'scan');
    let changes = 0;
    for (let k = 0; k < 60; k++) {
      const others = inputs.columns.map((column) => column[Math.floor(draw.uniform() * 1500)]);
      for (const [place, direction] of [
        [0, 1],
        [1, -1],
      ]) {
        const scan = inputs.columns.map((_, j) =>
          Float64Array.from({ length: 161 }, (_, i) => (j === place ? (i - 80) / 20 : others[j])),
        );
        const risks = risksOf(model, { ...inputs, rowCount: 161, columns: scan });
        for (let i = 1; i < risks.length; i++) {
          const step = direction * (risks[i] - risks[i - 1]);
          expect(step).toBeGreaterThanOrEqual(0);
          if (step > 0) changes++;
        }
      }
    }
    expect(changes).toBeGreaterThan(100);
    // Without the direction the waves of the first would show.
    const free = boosted(inputs, outcome, usual);
    const scan = inputs.columns.map((_, j) =>
      Float64Array.from({ length: 161 }, (_, i) => (j === 0 ? (i - 80) / 20 : 0)),
    );
    const risks = risksOf(free, { ...inputs, rowCount: 161, columns: scan });
    expect(risks.some((one, i) => i > 0 && one < risks[i - 1])).toBe(true);
  });

  it('are the same to the last bit for patients in another order', () => {
    const { inputs, outcome } = madePatients(900);
    const order = Array.from({ length: 900 }, (_, row) => (row * 7) % 900);
    const once = risksOf(boosted(inputs, outcome, usual), inputs);
    const again = risksOf(
      boosted(takenInputs(inputs, order), takenEvents(outcome, order), usual),
      takenInputs(inputs, order),
    );
    order.forEach((row, i) => {
      expect(again[i]).toBe(once[row]);
    });
  });

  it('learn from a weight of 3 as from three such patients', () => {
    const { inputs, outcome } = madePatients(400);
    const copies = Array.from({ length: 400 }, (_, row) => Array<number>(1 + (row % 3)).fill(row));
    const weights = Float64Array.from(copies, (rows) => rows.length);
    const weighted = boosted(inputs, outcome, usual, { weights });
    const repeated = boosted(
      takenInputs(inputs, copies.flat()),
      takenEvents(outcome, copies.flat()),
      usual,
    );
    near(risksOf(weighted, inputs), risksOf(repeated, inputs), 1e-9);
    expect(weighted.losses.at(-1)!.learned).toBeCloseTo(repeated.losses.at(-1)!.learned, 9);
  });

  it('learn nothing from those who are watched, and say their loss', () => {
    const { inputs, outcome } = madePatients(1200);
    const watched = Uint8Array.from({ length: 1200 }, (_, row) => Number(row % 4 === 0));
    const rows = [...watched.keys()].filter((row) => watched[row] === 0);
    const alone = boosted(takenInputs(inputs, rows), takenEvents(outcome, rows), usual);
    const model = boosted(inputs, outcome, { ...usual, rounds: 300 }, { watched, patience: 20 });
    near(risksOf(model, inputs, 20), risksOf(alone, inputs, 20), 1e-9);
    expect(model.losses.length).toBeLessThan(300);
    expect(model.losses.length - 1 - model.best).toBe(20);
    const risks = risksOf(model, inputs, model.best);
    let [sum, count] = [0, 0];
    outcome.values.forEach((value, row) => {
      if (watched[row] === 0) return;
      sum -= Math.log(value === 1 ? risks[row] : 1 - risks[row]);
      count++;
    });
    expect(model.losses[model.best].watched).toBeCloseTo(sum / count, 10);
    for (const { watched: loss } of model.losses)
      expect(loss).toBeGreaterThanOrEqual(model.losses[model.best].watched);
  });

  it('draw patients and inputs in each round by the seed, whatever their order', () => {
    const { inputs, outcome } = madePatients(600);
    const rules = { ...usual, rowShare: 0.5, columnShare: 0.5 };
    const order = Int32Array.from({ length: 600 }, (_, row) => row);
    const one = boosted(inputs, outcome, rules, { order });
    const turned = Array.from({ length: 600 }, (_, row) => 599 - row);
    const other = boosted(takenInputs(inputs, turned), takenEvents(outcome, turned), rules, {
      order: order.map((row) => 599 - row),
    });
    expect(risksOf(other, inputs)).toEqual(risksOf(one, inputs));
    const else2 = boost({ binned: binInputs(inputs), outcome, seed: 2, order }, rules);
    expect(risksOf(else2, inputs)).not.toEqual(risksOf(one, inputs));
    // Half of the patients a round: no root holds more.
    expect(risksOf(boosted(inputs, outcome, usual), inputs)).not.toEqual(risksOf(one, inputs));
  });

  it('in bins are as good as with every threshold, on patients they have not seen', () => {
    const { inputs, outcome } = madePatients(4000);
    const later = madePatients(4000, 9);
    const loss = (model: Boosted) => {
      const risks = risksOf(model, later.inputs);
      let sum = 0;
      later.outcome.values.forEach((value, row) => {
        sum -= Math.log(value === 1 ? risks[row] : 1 - risks[row]);
      });
      return sum / risks.length;
    };
    const binned = loss(boosted(inputs, outcome, usual));
    // 4,000 different values are 255 bins; of every second patient each value is one.
    const half = Array.from({ length: 2000 }, (_, i) => 2 * i);
    const exact = loss(boosted(takenInputs(inputs, half), takenEvents(outcome, half), usual));
    expect(binned).toBeLessThan(exact);
    expect(binned).toBeLessThan(0.52);
  });

  it.each([
    ['one patient', 1],
    ['two patients', 2],
  ])('of %s say what all have', (_, count) => {
    const { inputs } = madePatients(count);
    const outcome: Outcome = { kind: 'event', values: new Int8Array(count) };
    const model = boosted(inputs, outcome, usual);
    for (const one of risksOf(model, inputs)) expect(one).toBeLessThan(1e-5);
  });

  it('of columns that are empty or constant, or none at all, say what all have', () => {
    const values = Int8Array.from({ length: 40 }, (_, row) => Number(row % 4 === 0));
    for (const columns of [[new Float64Array(40).fill(NaN), new Float64Array(40).fill(3)], []]) {
      const inputs = { rowCount: 40, names: columns.map((_, j) => `c${j}`), columns };
      const model = boosted(inputs, { kind: 'event', values }, usual);
      for (const one of risksOf(model, inputs)) expect(one).toBeCloseTo(0.25, 9);
    }
  });

  it('answer for levels they have not seen, and gaps where there were none, without failing', () => {
    const { inputs, outcome } = madePatients(500);
    const model = boosted(inputs, outcome, usual);
    const odd: Inputs = {
      ...inputs,
      rowCount: 2,
      columns: [
        Float64Array.of(NaN, 1e9),
        Float64Array.of(NaN, -1e9),
        Float64Array.of(NaN, 0),
        Float64Array.of(NaN, 4),
      ],
    };
    for (const one of risksOf(model, odd)) {
      expect(one).toBeGreaterThan(0);
      expect(one).toBeLessThan(1);
    }
  });
});
