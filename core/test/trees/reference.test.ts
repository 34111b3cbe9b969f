import { describe, expect, it } from 'vitest';
import type { Inputs } from '../../src/preparation/index.ts';
import {
  binInputs,
  growTree,
  leavesOf,
  levelTarget,
  numberTarget,
  pruningSequence,
  type Target,
  type Tree,
} from '../../src/trees/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

interface Node {
  n: number;
  class_counts?: number[];
  mean?: number;
  risk: number;
  split_variable?: string;
  threshold?: number | null;
  left_levels?: number[] | null;
  gini_gain_weighted_counts?: number;
  squared_error_reduction?: number;
  left?: Node;
  right?: Node;
}
interface Result {
  name: string;
  growing?: string;
  smallest_node_to_split: number;
  smallest_leaf: number;
  loss_matrix?: { values: number[][] };
  costs?: { values: number[][] };
  leaves_full: number;
  predictions_first10?: number[];
  tree: Node;
  pruning_sequence: {
    alpha_total_cost: number;
    leaves: number;
    resubstitution_cost: number;
  }[];
}

const birthwt = loadTable('birthwt');
const urine = loadTable('urine');
const pbc = loadTable('pbc');

/** Inputs for those of the rows in which all is known, columns with levels as codes of them. */
function inputsOf(
  columns: Record<string, ArrayLike<number>>,
  rows: number[],
  levels: Record<string, string[]> = {},
): Inputs {
  const names = Object.keys(columns);
  return {
    rowCount: rows.length,
    names,
    columns: names.map((name) => Float64Array.from(rows, (row) => columns[name][row])),
    levels: names.map((name) => levels[name]),
  };
}

const everyRow = (rowCount: number) => Array.from({ length: rowCount }, (_, row) => row);
const births: Inputs = inputsOf(
  Object.fromEntries(
    ['age', 'lwt', 'race', 'smoke', 'ptl', 'ht', 'ui', 'ftv'].map((name) => [
      name,
      name === 'race' ? numbers(birthwt, name).map((code) => code - 1) : numbers(birthwt, name),
    ]),
  ),
  everyRow(189),
  { race: ['1', '2', '3'] },
);

function close(actual: number, expected: number): void {
  expect(Math.abs(actual - expected)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(expected)));
}

/** Node by node: who went where, by what, and what was gained. */
function expectSame(tree: Tree, inputs: Inputs, node: number, expected: Node, width: number): void {
  const sums = tree.sums.subarray(node * width, (node + 1) * width);
  if (expected.class_counts) expect([...sums]).toEqual(expected.class_counts);
  else expect(sums[0]).toBe(expected.n);
  if (!expected.left) {
    expect(tree.input[node]).toBe(-1);
    return;
  }
  expect(inputs.names[tree.input[node]]).toBe(expected.split_variable);
  if (expected.threshold != null) close(tree.threshold[node], expected.threshold);
  close(tree.gain[node], (expected.gini_gain_weighted_counts ?? expected.squared_error_reduction)!);
  // Which side of a set of levels is called the left one is a matter of words.
  const [left, right] = [tree.left[node], tree.right[node]];
  const weight = (one: number) =>
    expected.class_counts
      ? tree.sums.subarray(one * width, (one + 1) * width).reduce((a, b) => a + b, 0)
      : tree.sums[one * width];
  const turned =
    expected.threshold == null &&
    weight(left) !== expected.left.n &&
    weight(right) === expected.left.n;
  expectSame(tree, inputs, turned ? right : left, expected.left, width);
  expectSame(tree, inputs, turned ? left : right, expected.right!, width);
}

function grown(inputs: Inputs, target: Target, result: Result) {
  return growTree(
    binInputs(inputs),
    target,
    Int32Array.from({ length: inputs.rowCount }, (_, i) => i),
    {
      depth: 30,
      leastNode: result.smallest_node_to_split,
      leastLeaf: result.smallest_leaf,
    },
  );
}

function expectPruned(tree: Tree, loss: Float64Array, expected: Result['pruning_sequence']): void {
  const { trees } = pruningSequence(tree, loss);
  expect(trees.map(({ leaves }) => leaves)).toEqual(expected.map(({ leaves }) => leaves));
  trees.forEach(({ price, loss: total }, i) => {
    close(price, expected[i].alpha_total_cost);
    close(total, expected[i].resubstitution_cost);
  });
}

/** Cost of each node, were it a leaf with its cheapest label. */
function costs({ sums, input }: Tree, table: number[][]): Float64Array {
  const width = table.length;
  return Float64Array.from(input, (_, node) =>
    Math.min(
      ...table.map((__, label) =>
        table.reduce((sum, row, level) => sum + sums[node * width + level] * row[label], 0),
      ),
    ),
  );
}

const leafCount = ({ input }: Tree) => input.filter((one) => one < 0).length;

describe.each([
  {
    name: 'low birth weight (Hosmer & Lemeshow 1989)',
    file: 'tree_birthwt',
    inputs: births,
    outcome: numbers(birthwt, 'low'),
  },
  (() => {
    const names = ['gravity', 'ph', 'osmo', 'cond', 'urea', 'calc'];
    const columns = Object.fromEntries(names.map((name) => [name, numbers(urine, name)]));
    const rows = everyRow(urine.rowCount).filter((row) =>
      names.every((name) => !Number.isNaN(columns[name][row])),
    );
    return {
      name: 'crystals in urine (Andrews & Herzberg 1985)',
      file: 'tree_urine',
      inputs: inputsOf(columns, rows),
      outcome: Float64Array.from(rows, (row) => numbers(urine, 'r')[row]),
    };
  })(),
  (() => {
    const stage = numbers(pbc, 'stage');
    const rows = everyRow(pbc.rowCount).filter((row) => !Number.isNaN(stage[row]));
    const sex = pbc.columns[pbc.dictionary.findIndex(({ name }) => name === 'sex')];
    const male = Float64Array.from(everyRow(pbc.rowCount), (row) =>
      Number(sex.type === 'coded' && sex.levels[sex.codes[row]] === 'm'),
    );
    const columns = {
      ...Object.fromEntries(
        ['age', 'bili', 'albumin', 'edema'].map((name) => [name, numbers(pbc, name)]),
      ),
      male,
    };
    return {
      name: 'stage of a liver disease (Fleming & Harrington 1991)',
      file: 'tree_pbc_stage',
      inputs: inputsOf(columns, rows),
      outcome: Float64Array.from(rows, (row) => stage[row] - 1),
    };
  })(),
])('a tree of $name', ({ file, inputs, outcome }) => {
  const { results } = loadValues<{ results: Result[] }>(file);
  it.each(results.map((result) => [`${result.name}, ${result.growing ?? ''}`, result] as const))(
    'has the splits, gains and pruning sequence of exact arithmetic: %s',
    (_, result) => {
      const table = (result.loss_matrix ?? result.costs)!.values;
      const growsByCost = result.growing !== 'plain Gini';
      const target = levelTarget(Int32Array.from(outcome), table.length, 'Gini', {
        ...(growsByCost && { costs: table.map((row) => row.reduce((a, b) => a + b, 0)) }),
      });
      const tree = grown(inputs, target, result);
      expect(leafCount(tree)).toBe(result.leaves_full);
      expectSame(tree, inputs, 0, result.tree, table.length);
      expectPruned(tree, costs(tree, table), result.pruning_sequence);
    },
  );
});

describe('a tree of birth weight in grams (Hosmer & Lemeshow 1989)', () => {
  const { results } = loadValues<{ results: Result[] }>('regtree_birthwt');
  it.each(results.map((result) => [result.name, result] as const))(
    'has the splits, gains and pruning sequence of exact arithmetic: %s',
    (_, result) => {
      const weights = numbers(birthwt, 'bwt');
      const mean = weights.reduce((a, b) => a + b, 0) / weights.length;
      const about = weights.map((value) => value - mean);
      const tree = grown(births, numberTarget(about), result);
      expect(leafCount(tree)).toBe(result.leaves_full);
      expectSame(tree, births, 0, result.tree, 2);
      const leaves = leavesOf(tree, births);
      result.predictions_first10!.forEach((expected, row) => {
        const leaf = leaves[row];
        close(mean + tree.sums[2 * leaf + 1] / tree.sums[2 * leaf], expected);
      });
    },
  );
});
