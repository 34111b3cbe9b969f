import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../scripts/kernels.mjs';
import { blockRows, compiledBlock, plainBlock, randomStream } from '../../src/numeric/index.ts';
import { wasm } from '../../src/numeric/kernels/weighted-products.wasm.ts';

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

  it('is what its source compiles to', async () => {
    const source = fileURLToPath(new URL('weighted-products.as.ts', folder));
    expect(readFileSync(source, 'utf8')).toContain('addProducts');
    expect((await compileKernel(source)).toString('base64')).toBe(wasm);
  });
});
