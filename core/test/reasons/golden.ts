import type { PredictorColumn } from '../../src/preparation/index.ts';
import type { Ask } from '../../src/reasons/index.ts';
import { EnsembleBuilder, type Ensemble } from '../../src/trees/index.ts';
import { loadValues } from '../reference/load.ts';
import { columnsOf } from '../reference/sets.ts';

interface Explained {
  predictors: string[];
  results: {
    partial_dependence: { predictor: string; values: number[]; mean_prediction: number[] }[];
    partial_dependence_pair: {
      predictors: [string, string];
      points: number[][];
      mean_prediction: number[];
    }[];
    ale: {
      predictor: string;
      intervals_asked: number;
      edges: number[];
      rows_per_interval: number[];
      ale_at_edges: number[];
    }[];
    friedman: { pairs: { predictors: [string, string]; h: number }[] };
    shapley_interventional: Added[];
    shapley_tree_path_dependent?: Added[];
  };
}

interface Added {
  row: number;
  x: number[];
  prediction: number;
  base: number;
  values: Record<string, number>;
}

type Tree = { leaf: number } | { index: number; threshold: number; left: Tree; right: Tree };

const names = ['age', 'lwt', 'smoke', 'ptl', 'ht'];

/** Rows of Hosmer & Lemeshow's mothers. */
function mothers(every: number): PredictorColumn[] {
  const { columns, rowCount } = columnsOf('birthwt', names);
  const rows = Array.from({ length: rowCount }, (_, i) => i).filter((i) => i % every === 0);
  return names.map((name, j) => ({
    ...{ name, type: 'number' as const },
    values: Float64Array.from(rows, (row) => columns[j][row]),
  }));
}

const askRows =
  (of: (x: number[]) => number): Ask =>
  (columns, rowCount) =>
    Float64Array.from({ length: rowCount }, (_, i) =>
      of(columns.map((column) => (column.type === 'number' ? column.values[i] : column.codes[i]))),
    );

/** A function of five columns, written out. */
export function writtenFunction() {
  const ask = askRows(
    ([age, lwt, smoke, ptl, ht]) =>
      3 -
      0.04 * age -
      0.01 * lwt +
      0.6 * smoke +
      0.5 * ptl +
      0.02 * (lwt - 120) * ht +
      0.03 * age * smoke +
      0.0005 * (age - 25) ** 2,
  );
  return { ask, columns: mothers(4), ...loadValues<Explained>('explain_function_birthwt') };
}

/** Three trees for the weight of a child. */
export function threeTrees() {
  const found = loadValues<Explained & { constant: number; trees: Tree[] }>(
    'explain_trees_birthwt',
  );
  const leafOf = (tree: Tree, x: number[]): number =>
    'leaf' in tree ? tree.leaf : leafOf(x[tree.index] < tree.threshold ? tree.left : tree.right, x);
  const ask = askRows((x) =>
    found.trees.reduce((sum, tree) => sum + leafOf(tree, x), found.constant),
  );
  return { ask, columns: mothers(1), ensemble: ensembleOf(found.trees), ...found };
}

/** The trees as they are kept. */
function ensembleOf(trees: Tree[]): Ensemble {
  const built = new EnsembleBuilder();
  const put = (node: number, tree: Tree): void => {
    if ('leaf' in tree) {
      built.end(node, tree.leaf);
      return;
    }
    const left = built.part(node, tree.index, tree.threshold, true);
    put(left, tree.left);
    put(left + 1, tree.right);
  };
  for (const tree of trees) put(built.begin(), tree);
  return built.made();
}
