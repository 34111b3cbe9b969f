import { familyOf, settingsSchema, type Settings } from '../src/families/index.ts';
import { randomStream } from '../src/numeric/index.ts';
import type { Outcome } from '../src/outcome/index.ts';
import type { Inputs } from '../src/preparation/index.ts';
import {
  addLeaves,
  binCodes,
  binInputs,
  boost,
  growForest,
  growIsolationForest,
  growTree,
  isolationScores,
  levelTarget,
  numberTarget,
  type BinnedCodes,
} from '../src/trees/index.ts';
import type { BenchCase } from './cases.ts';

export const treeCases: BenchCase[] = [
  {
    name: 'tree of five levels and 2,000 leaves, 275,000 patients x 16',
    prepare() {
      const inputs = treeInputs(275_000, 16);
      const { columns } = inputs;
      const draw = randomStream(2, 'five levels');
      const codes = Int32Array.from(columns[0], (value, i) => {
        const score = value + columns[1][i] * columns[2][i] + 2 * draw.normal();
        return score > 3 ? 4 : score > 1.5 ? 3 : score > 0 ? 2 : score > -1 ? 1 : 0;
      });
      const rows = Int32Array.from(codes.keys());
      const rules = { depth: 30, leastNode: 220, leastLeaf: 110 };
      return () => growTree(binInputs(inputs), levelTarget(codes, 5, 'Gini'), rows.slice(), rules);
    },
  },
  {
    name: 'decision tree with its size from ten inner folds, 2,000 patients x 24',
    prepare() {
      const inputs = treeInputs(2000, 24);
      const costs = [
        [0, 1],
        [8, 0],
      ];
      return fitting('decision-tree', inputs, eventsOf(inputs), {}, costs);
    },
  },
  {
    name: 'boosted trees, 100 of depth 3, 300,000 patients x 17',
    prepare() {
      const inputs = treeInputs(300_000, 17);
      const settings = { until: 'all', trees: 100, depth: 3 };
      return fitting('boosted-trees', inputs, eventsOf(inputs), settings);
    },
  },
  {
    name: '960 random forests of 10 to 80 trees on the same bins, 160 patients x 13',
    prepare() {
      const inputs = treeInputs(160, 13);
      const binned = binCodes(inputs);
      const { values } = eventsOf(inputs);
      return () => {
        for (let k = 0; k < 960; k++)
          forestOf(binned, values, 10 + Math.floor((71 * k) / 960), 1 + (k % 6), 1, k);
      };
    },
  },
  {
    name: 'random forest, 50 trees, 100,000 patients x 20',
    prepare() {
      const inputs = treeInputs(100_000, 20);
      const { values } = eventsOf(inputs);
      return () => forestOf(binCodes(inputs), values, 50, 4, 5, 1);
    },
  },
  {
    name: 'isolation forest of 100 trees grown, 300,000 patients x 10 scored',
    prepare() {
      const inputs = treeInputs(300_000, 10);
      return () => isolationScores(growIsolationForest(inputs, { seed: 1 }), inputs);
    },
  },
  {
    name: '1,000,000 patients x 17 scored by 100 trees of depth 6',
    prepare() {
      const some = treeInputs(20_000, 17);
      const { ensemble } = boost(
        { binned: binInputs(some), outcome: eventsOf(some), seed: 1 },
        {
          rounds: 100,
          depth: 6,
          learningRate: 0.1,
          l2: 1,
          leastWeight: 1,
          rowShare: 1,
          columnShare: 1,
        },
      );
      const inputs = treeInputs(1_000_000, 17);
      return () => addLeaves(ensemble, inputs, new Float64Array(inputs.rowCount));
    },
  },
];

/** Numbers, a quarter of them of three values. */
function treeInputs(patients: number, count: number): Inputs {
  const draw = randomStream(1, 'tree inputs');
  const columns = Array.from({ length: count }, (_, j) =>
    Float64Array.from({ length: patients }, () =>
      j % 4 === 3 ? Math.floor(3 * draw.uniform()) : draw.normal(),
    ),
  );
  return { rowCount: patients, names: columns.map((_, j) => `c${j}`), columns };
}

function eventsOf({ columns }: Inputs): Outcome<'event'> {
  const draw = randomStream(2, 'events');
  const values = Int8Array.from(columns[0], (value) => Number(value + 2 * draw.normal() > 2));
  return { kind: 'event', values };
}

function fitting(id: string, inputs: Inputs, outcome: Outcome, said: Settings, costs?: number[][]) {
  const family = familyOf(id);
  const settings = settingsSchema(family.description.settings).parse(said);
  return () => family.fit(inputs, outcome, settings, { seed: 1, ...(costs && { costs }) });
}

function forestOf(
  binned: BinnedCodes,
  values: Int8Array,
  trees: number,
  tries: number,
  leastLeaf: number,
  seed: number,
) {
  const order = Int32Array.from(values.keys());
  return growForest(
    {
      binned,
      target: numberTarget(Float64Array.from(values)),
      sampling: { way: 'bootstrap' },
      order,
      columnOrder: Int32Array.from(binned.columns.keys()),
      leaf: {
        width: 1,
        valuesOf(sums, to) {
          to[0] = sums[1] / sums[0];
        },
      },
      seed,
    },
    { depth: 30, leastLeaf, tries, isShare: true, randomThresholds: false },
    trees,
  );
}
