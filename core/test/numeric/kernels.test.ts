import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../scripts/kernels.mjs';
import {
  blockRows,
  compiledBlock,
  compiledDesign,
  compiledExponentials,
  compiledForestRoom,
  compiledFirstWords,
  compiledLogLoss,
  compiledTreeRows,
  compiledTreeWalk,
  plainBlock,
  plainDesign,
  plainExponentials,
  plainFirstWords,
  plainLogLoss,
  plainTreeRows,
  plainTreeWalk,
  randomStream,
  walkedRows,
} from '../../src/numeric/index.ts';
import { wasm as exponentialsWasm } from '../../src/numeric/kernels/exponentials.wasm.ts';
import { wasm as forestWasm } from '../../src/numeric/kernels/forest-tree.wasm.ts';
import { wasm as logLossWasm } from '../../src/numeric/kernels/log-loss.wasm.ts';
import { wasm as shaWasm } from '../../src/numeric/kernels/sha256.wasm.ts';
import { wasm as rowsWasm } from '../../src/numeric/kernels/tree-rows.wasm.ts';
import { wasm as walkWasm } from '../../src/numeric/kernels/tree-walk.wasm.ts';
import { wasm as productsWasm } from '../../src/numeric/kernels/weighted-products.wasm.ts';

const folder = new URL('../../src/numeric/kernels/', import.meta.url);

describe('weighted products', () => {
  it.each([1, 2, 3, 4, 5, 8, 9, 31, 40])(
    'of %i columns: compiled as plain, and by definition',
    (size) => {
      const draw = randomStream(size, 'products');
      const blocks = [compiledBlock(size)!, plainBlock(size)];
      const columns = Array.from({ length: size }, () =>
        Float64Array.from({ length: 2 * blockRows }, () => draw.normal()),
      );
      const weights = Float64Array.from({ length: 2 * blockRows }, () => draw.uniform());
      // The second block is a part of one.
      const used = 2 * blockRows - 97;
      weights.fill(0, used);
      for (const block of blocks)
        for (const start of [0, blockRows]) {
          block.columns.forEach((room, j) =>
            room.set(columns[j].subarray(start, start + blockRows)),
          );
          block.weights.set(weights.subarray(start, start + blockRows));
          block.add();
        }
      for (let j = 0; j < size; j++)
        for (let k = 0; k <= j; k++) {
          let expected = 0;
          for (let i = 0; i < used; i++) expected += weights[i] * columns[j][i] * columns[k][i];
          for (const { sums } of blocks) expect(sums[j * size + k]).toBeCloseTo(expected, 9);
        }
    },
  );

  it.each([1, 3, 31])('of %i columns: combined and projected as by definition', (size) => {
    const draw = randomStream(size, 'combined');
    for (const block of [compiledBlock(size)!, plainBlock(size)]) {
      for (const column of block.columns) column.forEach((_, i) => (column[i] = draw.normal()));
      block.slopes.forEach((_, j) => (block.slopes[j] = draw.normal()));
      block.residual.forEach((_, i) => (block.residual[i] = draw.normal()));
      block.combine();
      block.project();
      block.project();
      const at = (i: number) =>
        block.columns.reduce((sum, column, j) => sum + block.slopes[j] * column[i], 0);
      for (const i of [0, 1, 100, blockRows - 1]) expect(block.linear[i]).toBeCloseTo(at(i), 10);
      block.columns.forEach((column, j) => {
        const once = column.reduce((sum, value, i) => sum + value * block.residual[i], 0);
        expect(block.score[j]).toBeCloseTo(2 * once, 9);
      });
    }
  });
});

describe('designs kept block by block', () => {
  const patients = 3 * blockRows - 41;
  const draw = randomStream(12, 'designs');
  const columns = Array.from({ length: 6 }, () =>
    Float64Array.from({ length: patients }, () => 5 + 3 * draw.normal()),
  );
  const means = [5, 4, 3, 2, 1, 0];
  // One that does not vary is 0 throughout.
  const factors = [1, 0.5, 2, 0, 0.25, 1];
  const weights = Float64Array.from({ length: patients }, () => draw.uniform());
  const at = (place: number, i: number) =>
    place === 0 ? 1 : (columns[place - 1][i] - means[place - 1]) * factors[place - 1];
  const sumOf = (each: (i: number) => number) => {
    let sum = 0;
    for (let i = 0; i < patients; i++) sum += each(i);
    return sum;
  };

  it.each([
    ['compiled', compiledDesign],
    ['plain', plainDesign],
  ])('are combined, projected and multiplied as by definition, %s', (_, make) => {
    const design = make({ rowCount: patients, columns, means, factors })!;
    const slopes = Float64Array.from({ length: 7 }, () => draw.normal());
    // Twice, so that what was left of the first time would show.
    for (const places of [Int32Array.of(0, 2, 5), Int32Array.of(0, 1, 2, 3, 4, 5, 6)]) {
      const linear = new Float64Array(patients);
      design.combine(slopes, linear);
      for (const i of [0, 255, 256, patients - 1])
        expect(linear[i]).toBeCloseTo(
          slopes.reduce((sum, slope, place) => sum + slope * at(place, i), 0),
          9,
        );
      design.project(weights).forEach((sum, place) => {
        expect(sum).toBeCloseTo(
          sumOf((i) => weights[i] * at(place, i)),
          8,
        );
      });
      const products = design.products(weights, places);
      places.forEach((one, j) =>
        places.forEach((other, k) =>
          expect(products[j * places.length + k]).toBeCloseTo(
            sumOf((i) => weights[i] * at(one, i) * at(other, i)),
            7,
          ),
        ),
      );
    }
  });
});

describe('SHA-256', () => {
  it.each([
    // FIPS 180-2, appendix B: one block, two blocks; the empty text from memory.
    ['', 'e3b0c442 98fc1c14'],
    ['abc', 'ba7816bf 8f01cfea'],
    ['abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq', '248d6a61 d20638b8'],
  ])('of "%s" begins as published', (text, expected) => {
    for (const wordsOf of [compiledFirstWords('')!, plainFirstWords('')])
      expect(
        wordsOf(text)
          .map((word) => word.toString(16).padStart(8, '0'))
          .join(' '),
      ).toBe(expected);
  });

  it('is the same compiled as plain, for keys of every length and script', () => {
    const compiled = compiledFirstWords('7|held-out|')!;
    const plain = plainFirstWords('7|held-out|');
    const keys = Array.from({ length: 200 }, (_, i) => 'x'.repeat(i));
    for (const key of [...keys, 'id:Ärztin 病棟', 'y'.repeat(30_000), '\u{1f9ea}'])
      expect(compiled(key)).toEqual(plain(key));
  });
});

describe('exponentials', () => {
  const draw = randomStream(8, 'exponents');
  const numbers = Float64Array.from({ length: 9001 }, (_, i) =>
    i < 4000 ? 20 * draw.normal() : 1400 * draw.uniform() - 700,
  );
  numbers.set([0, -0, 1, -1, 708, -708, 709, 1e-300, Math.LN2 / 2, -Math.LN2 / 2]);

  it('are those of the machine to two units in the last place', () => {
    const found = numbers.slice();
    compiledExponentials()!(found);
    found.forEach((value, i) => {
      const expected = Math.exp(numbers[i]);
      expect(Math.abs(value - expected)).toBeLessThanOrEqual(4.5e-16 * expected);
    });
  });

  it('are the same bits plain, and what cannot be held stays within bounds', () => {
    const [one, other] = [numbers.slice(), numbers.slice()];
    compiledExponentials()!(one);
    plainExponentials(other);
    expect(other).toEqual(one);
    const far = Float64Array.of(1e6, -1e6, Infinity, -Infinity, 3);
    const again = far.slice();
    compiledExponentials()!(far);
    plainExponentials(again);
    expect(far).toEqual(again);
    expect(far[0]).toBe(far[2]);
    expect(far[1]).toBeGreaterThan(0);
  });
});

describe('patients of nodes', () => {
  const [count, width, places] = [999, 5, 60];
  const draw = randomStream(9, 'cells');
  const cells = Uint16Array.from(
    { length: count * width },
    (_, at) => 12 * (at % width) + Math.floor(12 * draw.uniform()),
  );
  const pairs = Float64Array.from({ length: 2 * count }, () => Math.round(1000 * draw.normal()));
  const both = [compiledTreeRows, plainTreeRows].map((make) => {
    const at = make({ cells, width, places, count }, 2)!;
    at.rows.set(at.rows.map((_, i) => i));
    at.pairs.set(pairs);
    return at;
  });

  it('are summed by place as they are one by one, compiled and plain', () => {
    for (const at of both) {
      at.sum(100, 700, 0);
      const expected = new Float64Array(2 * places);
      for (let row = 100; row < 700; row++)
        for (let j = 0; j < width; j++)
          for (const k of [0, 1]) expected[2 * cells[row * width + j] + k] += pairs[2 * row + k];
      expect([...at.sums[0]]).toEqual([...expected]);
      // What is left without a part is what the others make.
      at.sum(100, 300, 1);
      at.takeAway(0, 1);
      at.sum(300, 700, 1);
      expect([...at.sums[0]]).toEqual([...at.sums[1]]);
    }
  });

  it('are parted by a column, in their order on both sides', () => {
    const goes = Uint8Array.from({ length: places }, (_, place) => Number(place % 3 === 0));
    const isLeft = (row: number) => goes[cells[row * width + 2]] === 1;
    const before = [...both[0].rows];
    const some = before.slice(50, 900);
    const expected = [...some.filter(isLeft), ...some.filter((row) => !isLeft(row))];
    for (const at of both) {
      expect(at.part(50, 900, 2, goes)).toBe(50 + some.filter(isLeft).length);
      expect([...at.rows]).toEqual([...before.slice(0, 50), ...expected, ...before.slice(900)]);
    }
  });
});

describe('more than a kernel holds', () => {
  it('is left to what works in arrays of its own', () => {
    const cells = new Uint16Array(12);
    // Sums of 40 million places at once.
    expect(compiledTreeRows({ cells, width: 3, places: 4e7, count: 4 }, 4)).toBeUndefined();
    expect(
      compiledTreeRows({ cells: Int32Array.from(cells), width: 3, places: 9, count: 4 }, 1),
    ).toBeUndefined();
    const columns = { codes: [new Uint16Array(8)], bins: [1e8], isNumber: [false] };
    const limits = { depth: 3, tries: 1, leastLeaf: 1, isShare: true };
    expect(compiledForestRoom({ ...columns, order: Int32Array.of(0) }, 8, limits)).toBeUndefined();
  });
});

describe('a walk through trees', () => {
  it('ends in the leaves that the questions lead to, compiled and plain', () => {
    // A number, then levels; each child beside its sibling.
    const nodes = {
      input: Int32Array.of(0, 1, -1, -1, -1),
      child: Int32Array.of(1, 3, 70, 80, 90),
      threshold: Float64Array.of(2.5, 0, 0, 0, 0),
      flags: Uint8Array.of(1, 2, 0, 0, 0),
      goesLeft: Uint8Array.of(1, 0, 1),
      values: Float64Array.from({ length: 91 }, (_, place) => place / 8),
    };
    const patients: [number, number, leaf: number][] = [
      [2, 0, 80],
      [2, 1, 90],
      [2, 2, 80],
      // Not less than the threshold.
      [2.5, 0, 70],
      // Who lacks the number goes left, who lacks the level right.
      [NaN, 1, 90],
      [NaN, NaN, 90],
      [-Infinity, 2, 80],
      [Infinity, 2, 70],
    ];
    for (const make of [compiledTreeWalk, plainTreeWalk]) {
      const { columns, leaves, walk, sums, add } = make(nodes, 2, 3)!;
      expect(columns[0].length).toBe(walkedRows);
      patients.forEach(([number, level], i) => {
        columns[0][i] = number;
        columns[1][i] = level;
      });
      walk(0, patients.length);
      expect([...leaves.subarray(0, patients.length)]).toEqual(patients.map(([, , leaf]) => leaf));
      // One fewer than go four at a time; what was there before is added to.
      sums[2].fill(0.5);
      add(0, patients.length - 1, 2);
      expect([...sums[2].subarray(0, patients.length)]).toEqual([
        ...patients.slice(0, -1).map(([, , leaf]) => 0.5 + leaf / 8),
        0.5,
      ]);
      expect(sums[0].every((sum) => sum === 0)).toBe(true);
    }
  });

  it('is the same to the bit, compiled and plain, in trees of any shape', () => {
    const draw = randomStream(8, 'trees of any shape');
    const below = (count: number) => Math.floor(count * draw.uniform());
    for (let tree = 0; tree < 30; tree++) {
      // Now and then one long branch.
      const isLong = tree % 3 === 0;
      const input = [0];
      const child = [0];
      const open = [0];
      for (let splits = 0; splits < 40; splits++) {
        const [node] = open.splice(isLong ? open.length - 1 : below(open.length), 1);
        input[node] = below(4);
        child[node] = input.length;
        open.push(input.length, input.length + 1);
        input.push(-1, -1);
        child.push(0, 0);
      }
      open.forEach((leaf, place) => {
        input[leaf] = -1;
        child[leaf] = place;
      });
      const isLevels = (node: number) => input[node] === 3;
      const nodes = {
        input: Int32Array.from(input),
        child: Int32Array.from(child),
        threshold: Float64Array.from(input, (_, node) =>
          isLevels(node) ? 5 * node : draw.normal(),
        ),
        flags: Uint8Array.from(input, (_, node) => below(2) + (isLevels(node) ? 2 : 0)),
        goesLeft: Uint8Array.from({ length: 5 * input.length }, () => below(2)),
        values: Float64Array.from(open, () => draw.normal()),
      };
      const walks = [compiledTreeWalk(nodes, 4, 1)!, plainTreeWalk(nodes, 4, 1)];
      for (let j = 0; j < 4; j++)
        for (let i = 0; i < walkedRows; i++) {
          const known = j === 3 ? below(5) : draw.normal();
          const value = draw.uniform() < 0.2 ? NaN : known;
          for (const { columns } of walks) columns[j][i] = value;
        }
      for (const { walk, add } of walks) {
        walk(0, 253);
        add(0, 253, 0);
        add(0, 253, 0);
      }
      const [compiled, plain] = walks;
      expect([...compiled.leaves.subarray(0, 253)]).toEqual([...plain.leaves.subarray(0, 253)]);
      expect([...compiled.sums[0]]).toEqual([...plain.sums[0]]);
      expect(new Set(plain.leaves.subarray(0, 253)).size).toBeGreaterThan(2);
    }
  });
});

describe('log loss', () => {
  const count = 777;
  const draw = randomStream(10, 'scores');
  const scores = Float64Array.from({ length: count }, () => 9 * draw.normal());
  scores.set([0, 800, -800, 40, -40]);
  const cases = Uint8Array.from(scores, () => Number(draw.uniform() < 0.3));
  const weights = Float64Array.from(scores, () => 3 * draw.uniform());
  const watched = Uint8Array.from(scores, () => Number(draw.uniform() < 0.2));
  const rounding = { big: 1.5 * 2 ** 52 * 2 ** -40, least: 2 ** -40 };
  const both = [compiledLogLoss()!, plainLogLoss()];
  for (const block of both) {
    block.scores.set(scores);
    block.cases.set(cases);
    block.weights.set(weights);
    block.watched.set(watched);
    block.slopes(count, rounding);
  }
  const [{ pairs, scores: given }] = both;

  it('has the derivatives of the definition, as whole multiples', () => {
    for (let row = 0; row < count; row++) {
      const risk = 1 / (1 + Math.exp(-scores[row]));
      const [second, first] = pairs.subarray(2 * row, 2 * row + 2);
      const spread = Math.max(weights[row] * risk * (1 - risk), rounding.least);
      expect(Math.abs(second - spread)).toBeLessThanOrEqual(rounding.least);
      expect(Math.abs(first - weights[row] * (risk - cases[row]))).toBeLessThanOrEqual(
        rounding.least,
      );
      expect(Number.isInteger(second * 2 ** 40) && Number.isInteger(first * 2 ** 40)).toBe(true);
      expect(given[row]).toBeCloseTo(cases[row] === 1 ? risk : 1 - risk, 12);
    }
  });

  it('is summed by side, however small shares are', () => {
    const expected = [0, 0];
    given.subarray(0, count).forEach((share, row) => {
      expected[watched[row]] += Math.log(Math.max(share, 1e-100));
    });
    for (const block of both) {
      block.multiply(count);
      const found = block.logs();
      found.forEach((sum, side) => expect(sum / expected[side]).toBeCloseTo(1, 12));
      expect(block.logs().map(Math.abs)).toEqual([0, 0]);
    }
  });

  it('is the same bits plain', () => {
    const [one, other] = both;
    expect(other.pairs.subarray(0, 2 * count)).toEqual(one.pairs.subarray(0, 2 * count));
    expect(other.scores.subarray(0, count)).toEqual(one.scores.subarray(0, count));
    for (const block of both) block.multiply(count);
    expect(other.logs()).toEqual(one.logs());
  });
});

describe('compiled kernels', () => {
  it.each([
    ['weighted-products', productsWasm],
    ['sha256', shaWasm],
    ['exponentials', exponentialsWasm],
    ['forest-tree', forestWasm],
    ['log-loss', logLossWasm],
    ['tree-rows', rowsWasm],
    ['tree-walk', walkWasm],
  ])(
    '%s is what its source compiles to',
    async (name, wasm) => {
      const source = fileURLToPath(new URL(`${name}.as.ts`, folder));
      expect((await compileKernel(source)).toString('base64')).toBe(wasm);
      // The compiler is loaded first, which takes seconds on a machine at work.
    },
    60_000,
  );
});
