import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../scripts/kernels.mjs';
import {
  blockRows,
  compiledBlock,
  compiledFirstWords,
  plainBlock,
  plainFirstWords,
  randomStream,
} from '../../src/numeric/index.ts';
import { wasm as shaWasm } from '../../src/numeric/kernels/sha256.wasm.ts';
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

describe('compiled kernels', () => {
  it.each([
    ['weighted-products', productsWasm],
    ['sha256', shaWasm],
  ])('%s is what its source compiles to', async (name, wasm) => {
    const source = fileURLToPath(new URL(`${name}.as.ts`, folder));
    expect((await compileKernel(source)).toString('base64')).toBe(wasm);
  });
});
