import { blockRows, productBlock, type ProductBlock } from '../../numeric/index.ts';
import type { Centred } from './centred.ts';

/** Room for one block of patients with a column of ones first. @param size inputs and the intercept */
export function newBlock(size: number): ProductBlock {
  const block = productBlock(size);
  block.columns[0].fill(1);
  return block;
}

/** The centred inputs of so many patients from `start` on; what is beyond the block's end gets 0. */
export function fillBlock(
  block: ProductBlock,
  { columns, means, factors }: Centred,
  start: number,
  rows: number,
) {
  for (let j = 0; j < columns.length; j++) {
    const room = block.columns[j + 1];
    const column = columns[j];
    const mean = means[j];
    const factor = factors[j];
    for (let i = 0; i < rows; i++) room[i] = (column[start + i] - mean) * factor;
    if (rows < blockRows) room.fill(0, rows);
  }
}
