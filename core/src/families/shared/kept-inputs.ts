import { blockRows, factorise } from '../../numeric/index.ts';
import { fillBlock, newBlock } from './blocks.ts';
import type { Centred } from './centred.ts';

/** False for an input that is a combination of earlier ones, or does not vary. */
export function keptInputs(inputs: Centred): boolean[] {
  const size = inputs.columns.length + 1;
  const block = newBlock(size);
  block.weights.fill(1);
  block.sums.fill(0);
  for (let start = 0; start < inputs.rowCount; start += blockRows) {
    const rows = Math.min(blockRows, inputs.rowCount - start);
    fillBlock(block, inputs, start, rows);
    if (rows < blockRows) block.weights.fill(0, rows);
    block.add();
  }
  return factorise(block.sums, size).kept.slice(1);
}
