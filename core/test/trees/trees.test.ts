import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import {
  binInputs,
  brierLoss,
  costLoss,
  endedAt,
  growTree,
  innerFolds,
  leavesOf,
  levelTarget,
  nodeCount,
  numberTarget,
  pruningSequence,
  sharesOf,
  squaredLoss,
  triedSizes,
  type Target,
  type Tree,
} from '../../src/trees/index.ts';

const rules = { depth: 30, leastNode: 2, leastLeaf: 1 };

function inputsOf(
  columns: Record<string, number[]>,
  levels: Record<string, string[]> = {},
): Inputs {
  const names = Object.keys(columns);
  return {
    rowCount: columns[names[0]]?.length ?? 0,
    names,
    columns: names.map((name) => Float64Array.from(columns[name])),
    levels: names.map((name) => levels[name]),
  };
}

const rowsOf = ({ rowCount }: Inputs) => Int32Array.from({ length: rowCount }, (_, row) => row);
const grow = (inputs: Inputs, target: Target, rows: Int32Array = rowsOf(inputs), by = rules) =>
  growTree(binInputs(inputs), target, rows, by);
const events = (values: number[]) => levelTarget(Int8Array.from(values), 2, 'Gini');

/** Counts at a node, and the two beneath it. */
const counts = (tree: Tree, node: number, width = 2) =>
  Array.from(tree.sums.subarray(node * width, (node + 1) * width));

describe('a tree where something is not known', () => {
  it('sends those who lack it to the side they are like, and later ones after them', () => {
    const x = [1, 2, 3, 4, NaN, NaN, 11, 12, 13, 14];
    const like = (gap: number) => [0, 0, 0, 0, gap, gap, 1, 1, 1, 1];
    for (const gap of [0, 1]) {
      const inputs = inputsOf({ x });
      const tree = grow(inputs, events(like(gap)));
      expect(tree.threshold[0]).toBe(7.5);
      expect(tree.gapsLeft[0]).toBe(1 - gap);
      expect(counts(tree, tree.left[0])).toEqual(gap === 0 ? [6, 0] : [4, 0]);
      const [unknown] = leavesOf(tree, inputsOf({ x: [NaN] }));
      expect(unknown).toBe(gap === 0 ? tree.left[0] : tree.right[0]);
    }
  });

  it('asks whether it is known where only that tells', () => {
    const inputs = inputsOf({ x: [1, 2, 3, NaN, NaN, NaN] });
    const tree = grow(inputs, events([0, 0, 0, 1, 1, 1]));
    expect(tree.threshold[0]).toBe(Infinity);
    expect(counts(tree, tree.left[0])).toEqual([3, 0]);
    expect([...leavesOf(tree, inputsOf({ x: [1e9, NaN] }))]).toEqual([tree.left[0], tree.right[0]]);
  });

  it('sends a later gap with the larger side where nobody lacked it', () => {
    const tree = grow(inputsOf({ x: [1, 2, 3, 9] }), events([0, 0, 0, 1]));
    expect(leavesOf(tree, inputsOf({ x: [NaN] }))[0]).toBe(tree.left[0]);
  });

  it('has nothing to ask of a column of gaps alone, nor of one that is the same for all', () => {
    const inputs = inputsOf({ gaps: [NaN, NaN, NaN, NaN], same: [7, 7, 7, 7] });
    expect(nodeCount(grow(inputs, events([0, 1, 0, 1])))).toBe(1);
    expect(nodeCount(grow(inputsOf({ x: [3] }), events([1])))).toBe(1);
    expect(nodeCount(grow({ rowCount: 3, names: [], columns: [] }, events([0, 1, 1])))).toBe(1);
  });
});

describe('a tree on levels', () => {
  const levels = { ward: ['A', 'B', 'C', 'D', 'E'] };
  const ward = [0, 0, 1, 1, 2, 2, 3, 3, 4, 4];

  it('parts them as sets, whatever their order', () => {
    // A, C and E have it, B and D do not.
    const inputs = inputsOf({ ward }, levels);
    const tree = grow(inputs, events([1, 1, 0, 0, 1, 1, 0, 0, 1, 1]));
    expect(nodeCount(tree)).toBe(3);
    expect([...tree.goesLeft]).toEqual([0, 1, 0, 1, 0]);
    expect(counts(tree, tree.right[0])).toEqual([0, 6]);
  });

  it('finds the best of all sets for three outcomes, which no one order of the levels holds', () => {
    const draw = randomStream(4, 'sets');
    const rows = Array.from({ length: 300 }, () => Math.floor(5 * draw.uniform()));
    const outcome = rows.map((level) =>
      draw.uniform() < 0.5 ? [0, 1, 2, 0, 1][level] : Math.floor(3 * draw.uniform()),
    );
    const inputs = inputsOf({ ward: rows }, levels);
    const tree = grow(inputs, levelTarget(outcome, 3, 'Gini'), rowsOf(inputs), {
      ...rules,
      depth: 1,
    });
    const likeness = (members: number[]) => {
      const sums = [0, 1, 2].map((k) => members.filter((row) => outcome[row] === k).length);
      return sums.reduce((sum, one) => sum + one * one, 0) / Math.max(1, members.length);
    };
    const all = rows.map((_, row) => row);
    const gains = Array.from({ length: 15 }, (_, set) => {
      const isLeft = (row: number) => ((set + 1) & (1 << rows[row])) !== 0;
      return (
        likeness(all.filter(isLeft)) + likeness(all.filter((row) => !isLeft(row))) - likeness(all)
      );
    });
    expect(tree.gain[0]).toBeCloseTo(Math.max(...gains), 9);
  });

  it('parts them in their order where they have one', () => {
    const inputs = { ...inputsOf({ ward }, levels), ordered: [true] };
    // A and B lack it, D and E have it, and one of C: no set is asked for, only from where on.
    const tree = grow(inputs, events([0, 0, 0, 0, 1, 0, 1, 1, 1, 1]), rowsOf(inputs), {
      ...rules,
      depth: 1,
    });
    expect(tree.sets[0]).toBe(-1);
    expect([1.5, 2.5]).toContain(tree.threshold[0]);
    const alternating = grow(inputs, events([1, 1, 0, 0, 1, 1, 0, 0, 1, 1]));
    expect(alternating.sets.every((set) => set === -1)).toBe(true);
    expect(
      leavesOf(alternating, inputs).map((leaf) => (counts(alternating, leaf)[1] > 0 ? 1 : 0)),
    ).toEqual(Int32Array.from([1, 1, 0, 0, 1, 1, 0, 0, 1, 1]));
  });

  it('parts more levels than there are bins of a number, and more than it tries in every way', () => {
    const names = Array.from({ length: 700 }, (_, level) => `L${level}`);
    const draw = randomStream(6, 'many levels');
    const level = Array.from({ length: 4000 }, () => Math.floor(700 * draw.uniform()));
    const inputs = inputsOf({ level }, { level: names });
    for (const [outcomes, target] of [
      [2, events(level.map((one) => one % 2))],
      [
        3,
        levelTarget(
          level.map((one) => one % 3),
          3,
          'Gini',
        ),
      ],
    ] as const) {
      const tree = grow(inputs, target, rowsOf(inputs), { ...rules, depth: outcomes - 1 });
      const leaves = leavesOf(tree, inputs);
      level.forEach((one, row) => {
        const own = counts(tree, leaves[row], outcomes);
        expect(own[one % outcomes]).toBe(own.reduce((a, b) => a + b));
      });
    }
  });

  it('takes a level that nobody had for one that is not known', () => {
    const tree = grow(inputsOf({ ward }, levels), events([1, 1, 0, 0, 1, 1, 0, 0, 1, 1]));
    expect(leavesOf(tree, inputsOf({ ward: [NaN] }, levels))[0]).toBe(tree.right[0]);
  });
});

describe('the rules of growing', () => {
  const draw = randomStream(9, 'grow');
  const x = Array.from({ length: 500 }, () => draw.normal());
  const z = Array.from({ length: 500 }, () => draw.normal());
  const y = x.map((value, i) => Number(value * z[i] + 0.7 * draw.normal() > 0.4));
  const inputs = inputsOf({ x, z });

  it('hold: patients in a leaf and to split, and questions in a row', () => {
    const tree = grow(inputs, events(y), rowsOf(inputs), {
      depth: 4,
      leastNode: 60,
      leastLeaf: 25,
    });
    const patients = (node: number) => counts(tree, node).reduce((a, b) => a + b, 0);
    const depthOf = (node: number): number => {
      const parent = tree.left.findIndex((one, i) => one === node || tree.right[i] === node);
      return parent < 0 ? 0 : 1 + depthOf(parent);
    };
    for (let node = 0; node < nodeCount(tree); node++) {
      expect(patients(node)).toBeGreaterThanOrEqual(25);
      expect(depthOf(node)).toBeLessThanOrEqual(4);
      if (tree.input[node] >= 0) expect(patients(node)).toBeGreaterThanOrEqual(60);
    }
  });

  it('give the same tree whatever the order of patients, and the same leaves of inputs', () => {
    const turned = Array.from({ length: 500 }, (_, i) => (i * 77) % 500);
    const other = inputsOf({ x: turned.map((i) => x[i]), z: turned.map((i) => z[i]) });
    const tree = grow(inputs, events(y));
    const same = grow(other, events(turned.map((i) => y[i])));
    expect(same).toEqual(tree);
    // Deep down gains tie, and the first input stands.
    const by = { depth: 4, leastNode: 60, leastLeaf: 25 };
    const swapped = inputsOf({ z, x });
    const [one, back] = [inputs, swapped].map((own) => grow(own, events(y), rowsOf(own), by));
    expect([...leavesOf(back, swapped)]).toEqual([...leavesOf(one, inputs)]);
  });

  it('count a patient of weight two as two', () => {
    const weights = Float64Array.from(x, (_, i) => (i % 4 === 0 ? 2 : 1));
    const twice = [...x.keys(), ...x.keys()].filter((i, at) => at < 500 || i % 4 === 0);
    const repeated = inputsOf({ x: twice.map((i) => x[i]), z: twice.map((i) => z[i]) });
    const by = { depth: 6, leastNode: 20, leastLeaf: 7 };
    const weighted = grow(
      inputs,
      levelTarget(Int8Array.from(y), 2, 'entropy', { weights }),
      rowsOf(inputs),
      by,
    );
    const plain = grow(
      repeated,
      levelTarget(
        twice.map((i) => y[i]),
        2,
        'entropy',
      ),
      rowsOf(repeated),
      by,
    );
    expect(weighted.input).toEqual(plain.input);
    expect(weighted.threshold).toEqual(plain.threshold);
    expect(weighted.sums).toEqual(plain.sums);
  });

  it('find what two inputs say only together', () => {
    const loss = brierLoss(y, 2, 0);
    const tree = grow(inputs, events(y), rowsOf(inputs), {
      depth: 6,
      leastNode: 40,
      leastLeaf: 20,
    });
    const [whole] = loss.ofNodes(tree, inputs);
    const { trees } = pruningSequence(tree, loss.ofNodes(tree, inputs));
    expect(trees[0].loss).toBeLessThan(0.75 * whole);
  });
});

describe('bins', () => {
  const draw = randomStream(5, 'bins');
  const many = Array.from({ length: 60_000 }, () =>
    draw.uniform() < 0.04 ? NaN : Math.exp(draw.normal()),
  );

  it.each([
    ['', (value: number) => value],
    [', of some a million million times as large', (value: number) => value ** 20],
    [', further apart than a number can say', (value: number) => 4e307 * Math.log(value)],
  ])('of many values%s hold about equally many patients, never parting equal ones', (_, made) => {
    const values = many.map(made);
    const { columns, cells, offsets } = binInputs(inputsOf({ values }));
    const [{ bins, least, greatest }] = columns;
    expect(bins).toBe(255);
    const counted = new Int32Array(bins + 1);
    for (const cell of cells) counted[cell - offsets[0]]++;
    expect(counted[bins]).toBe(values.filter(Number.isNaN).length);
    const known = counted.subarray(0, bins);
    expect(Math.min(...known)).toBeGreaterThan(0);
    expect(Math.max(...known)).toBeLessThan(4 * (60_000 / bins));
    for (let bin = 1; bin < bins; bin++) expect(least![bin]).toBeGreaterThan(greatest![bin - 1]);
    values.forEach((value, i) => {
      if (Number.isNaN(value)) return;
      const bin = cells[i];
      expect(value >= least![bin] && value <= greatest![bin]).toBe(true);
    });
  });

  it('are made once for the same inputs', () => {
    const inputs = inputsOf({ few: [3, 1, NaN, 2] });
    expect(binInputs(inputs)).toBe(binInputs(inputs));
    expect(binInputs({ ...inputs })).not.toBe(binInputs(inputs));
    expect(binInputs({ ...inputs })).toEqual(binInputs(inputs));
  });

  it('do not depend on the order of patients', () => {
    const [turned] = binInputs(inputsOf({ many: many.toReversed() })).columns;
    expect(turned).toEqual(binInputs(inputsOf({ many })).columns[0]);
  });

  it('give a common value one of its own, and few different values one each', () => {
    const spiked = many.map((value, i) => (i % 3 === 0 ? 0 : value));
    const [{ least, greatest }] = binInputs(inputsOf({ spiked })).columns;
    expect([least![0], greatest![0]]).toEqual([0, 0]);
    const whole = many.map((value) => Math.round(10 * Math.min(value, 9)));
    const [{ bins }] = binInputs(inputsOf({ whole })).columns;
    expect(bins).toBe(new Set(whole.filter((value) => !Number.isNaN(value))).size);
  });

  it('cost a split almost nothing: the gain is within a hundredth of the exact one', () => {
    const y = many.map((value) => Number((value || 0) + 0.8 * draw.normal() > 2));
    const binned = grow(inputsOf({ many }), events(y), undefined, { ...rules, depth: 1 });
    const gainAt = (threshold: number) => {
      const sides = [0, 0, 0, 0];
      many.forEach((value, i) => {
        const isLeft = Number.isNaN(value) ? binned.gapsLeft[0] === 1 : value < threshold;
        sides[(isLeft ? 0 : 2) + y[i]]++;
      });
      const like = (a: number, b: number) => (a * a + b * b) / Math.max(1, a + b);
      const [a, b, c, d] = sides;
      return like(a, b) + like(c, d) - like(a + c, b + d);
    };
    const exact = Math.max(
      ...many.filter((_, i) => i % 97 === 0 && !Number.isNaN(many[i])).map(gainAt),
    );
    expect(binned.gain[0]).toBeCloseTo(gainAt(binned.threshold[0]), 6);
    expect(binned.gain[0]).toBeGreaterThan(0.99 * exact);
  });
});

describe('inner folds and sizes', () => {
  const draw = randomStream(21, 'sizes');
  const x = Array.from({ length: 400 }, () => draw.normal());
  const z = Array.from({ length: 400 }, () => draw.normal());
  const y = x.map((value) => Number(draw.uniform() < (value > 0.3 ? 0.6 : 0.1)));
  const inputs = inputsOf({ x, z });
  const folds = innerFolds(inputs, y, y, 5, 7);

  it('are dealt evenly within the outcome, and the same in any order', () => {
    for (const outcome of [0, 1]) {
      const sizes = [0, 1, 2, 3, 4].map(
        (fold) => y.filter((one, i) => one === outcome && folds[i] === fold).length,
      );
      expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(1);
    }
    const turned = Array.from({ length: 400 }, (_, i) => (i * 77) % 400);
    const other = inputsOf({ z: turned.map((i) => z[i]), x: turned.map((i) => x[i]) });
    const outcome = turned.map((i) => y[i]);
    expect([...innerFolds(other, outcome, outcome, 5, 7)]).toEqual(turned.map((i) => folds[i]));
    expect([...innerFolds(inputs, y, y, 5, 8)]).not.toEqual([...folds]);
  });

  it('keep patients together who are alike in everything', () => {
    const twins = inputsOf({ x: [...x, ...x], z: [...z, ...z] });
    const outcome = [...y, ...y];
    const dealt = innerFolds(twins, outcome, outcome, 5, 7);
    expect([...dealt.subarray(0, 400)]).toEqual([...dealt.subarray(400)]);
  });

  const by = { depth: 8, leastNode: 10, leastLeaf: 5 };
  const growOn = (rows: Int32Array) => grow(inputs, events(y), rows, by);
  const tree = growOn(rowsOf(inputs));

  /** The tree of a sequence that is best at a price, by pruning anew. */
  function prunedAt(one: Tree, loss: Float64Array, price: number): Tree {
    const { trees, from } = pruningSequence(one, loss);
    const place = trees.findLastIndex((pruned) => pruned.price <= price * (1 + 1e-12));
    return endedAt(one, (node) => from[node] <= place).tree;
  }

  it.each([
    ['Brier score', brierLoss(y, 2, 1)],
    [
      'error costs',
      costLoss(y, [
        [0, 1],
        [4, 0],
      ]),
    ],
  ] as const)(
    'are judged by the %s of patients of inner folds, as counted by hand',
    (name, loss) => {
      const { sizes, best, simplest } = triedSizes(tree, inputs, loss, growOn, folds);
      expect(sizes.length).toBeGreaterThan(3);
      sizes.forEach((size, k) => {
        const price = k + 1 < sizes.length ? Math.sqrt(size.price * sizes[k + 1].price) : Infinity;
        const lost: number[] = [];
        for (let fold = 0; fold < 5; fold++) {
          const others = rowsOf(inputs).filter((row) => folds[row] !== fold);
          const own = rowsOf(inputs).filter((row) => folds[row] === fold);
          const grown = growOn(others.slice());
          const pruned = prunedAt(
            grown,
            loss.ofNodes(grown, inputs, others),
            price * others.length,
          );
          const leaves = leavesOf(pruned, inputs, own);
          own.forEach((row, i) => {
            const [no, yes] = counts(pruned, leaves[i]);
            if (name === 'error costs') lost.push(4 * yes > no ? 1 - y[row] : 4 * y[row]);
            else lost.push((y[row] - sharesOf(pruned, leaves[i], 2, 1)[1]) ** 2);
          });
        }
        const mean = lost.reduce((sum, one) => sum + one, 0) / lost.length;
        const variance = lost.reduce((sum, one) => sum + (one - mean) ** 2, 0) / lost.length;
        expect(size.estimate).toBeCloseTo(mean, 9);
        expect(size.standardError).toBeCloseTo(Math.sqrt(variance / lost.length), 9);
      });
      const least = Math.min(...sizes.map(({ estimate }) => estimate!));
      expect(sizes[best].estimate).toBe(least);
      const within = sizes.filter(
        ({ estimate }) => estimate! <= least + sizes[best].standardError!,
      );
      expect(sizes[simplest].leaves).toBe(Math.min(...within.map(({ leaves }) => leaves)));
    },
  );

  it('of a number are judged by squared distances, which add up in every node', () => {
    const values = Float64Array.from(x, (value, i) => 3 * Number(value > 0) + z[i]);
    const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
    const about = values.map((value) => value - mean);
    const numbers = grow(inputs, numberTarget(about), rowsOf(inputs), by);
    const loss = squaredLoss(about).ofNodes(numbers, inputs);
    const leaves = leavesOf(numbers, inputs);
    const own = [...new Set(leaves)];
    for (const leaf of own) {
      const there = [...about].filter((_, row) => leaves[row] === leaf);
      const middle = there.reduce((sum, one) => sum + one, 0) / there.length;
      expect(loss[leaf]).toBeCloseTo(
        there.reduce((sum, one) => sum + (one - middle) ** 2, 0),
        8,
      );
    }
    expect(loss[0]).toBeCloseTo(
      about.reduce((sum, one) => sum + one * one, 0),
      8,
    );
  });

  it('draws the shares of a leaf to those of all', () => {
    const [no, yes] = counts(tree, 0);
    const leaf = leavesOf(tree, inputs)[0];
    const [there, with1] = [counts(tree, leaf).reduce((a, b) => a + b), counts(tree, leaf)[1]];
    expect(sharesOf(tree, leaf, 2, 0)[1]).toBe(with1 / there);
    expect(sharesOf(tree, leaf, 2, 3)[1]).toBeCloseTo(
      (with1 + (3 * yes) / (no + yes)) / (there + 3),
      14,
    );
  });
});
