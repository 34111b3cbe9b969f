/** Values of points that lie behind one another, all the same: the mean of what was given for them. */
export interface RisingBlock {
  /** The first point, and the one behind the last. */
  from: number;
  to: number;
  mean: number;
}

/**
 * The values that never fall and have the least squared distance from those given, by pooling adjacent
 * violators: Ayer et al. (1955), Annals of Mathematical Statistics 26:641-647.
 *
 * @param values in the order in which they should not fall
 * @param weights of each, above zero; all 1 where left out
 */
export function risingBlocks(
  values: ArrayLike<number>,
  weights?: ArrayLike<number>,
): RisingBlock[] {
  const blocks: (RisingBlock & { weight: number })[] = [];
  for (let i = 0; i < values.length; i++) {
    let block = { from: i, to: i + 1, mean: values[i], weight: weights?.[i] ?? 1 };
    while (blocks.length > 0 && blocks[blocks.length - 1].mean >= block.mean) {
      const before = blocks.pop()!;
      const weight = before.weight + block.weight;
      const mean = (before.mean * before.weight + block.mean * block.weight) / weight;
      block = { from: before.from, to: block.to, mean, weight };
    }
    blocks.push(block);
  }
  return blocks.map(({ from, to, mean }) => ({ from, to, mean }));
}
