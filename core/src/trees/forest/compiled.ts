import { compiledForestRoom, type GrownNodes } from '../../numeric/index.ts';
import type { BinnedCodes, BinnedColumn } from '../binned.ts';
import { cutBetween } from '../cut.ts';
import type { EnsembleBuilder } from '../ensemble.ts';
import type { Target } from '../target.ts';
import type { ForestRules, Leaf, TreeGrower } from './grow.ts';

/** Grows trees of numbers in a compiled kernel; undefined where that cannot be. */
export function compiledGrower(
  { columns, codes }: BinnedCodes,
  target: Target & { weights: Float64Array },
  rules: ForestRules,
  columnOrder: Int32Array,
  leaf: Leaf,
): TreeGrower | undefined {
  const { values, weights } = target;
  if (!values || rules.randomThresholds || rules.directions) return undefined;
  const room = compiledForestRoom(
    {
      codes,
      bins: columns.map(({ bins }) => bins),
      isNumber: columns.map(({ least }) => least !== undefined),
      order: columnOrder,
    },
    weights.length,
    rules,
  );
  if (!room) return undefined;
  const sums = new Float64Array(2);
  const said = new Float64Array(leaf.width);
  return {
    gains: room.gains,
    grow(builder, words) {
      for (let row = 0; row < weights.length; row++) {
        room.pairs[2 * row] = weights[row];
        room.pairs[2 * row + 1] = weights[row] * values[row];
      }
      const grown = room.grow(words);
      const root = builder.begin(grown.count);
      for (let node = 0; node < grown.count; node++)
        if (!copySplit(builder, root, grown, node, columns)) {
          sums.set(grown.sumsOf(node));
          leaf.valuesOf(sums, said);
          builder.endWith(root + node, said, 0, leaf.width);
        }
    },
  };
}

/** False for a leaf. */
function copySplit(
  builder: EnsembleBuilder,
  root: number,
  grown: GrownNodes,
  node: number,
  columns: BinnedColumn[],
): boolean {
  const input = grown.inputOf(node);
  if (input < 0) return false;
  const levels = grown.levelsOf(node);
  const child = root + grown.childOf(node);
  if (levels) builder.setLevels(root + node, input, child, levels, grown.gapsLeft(node));
  else {
    const [upTo, next] = grown.binsOf(node);
    const { threshold } = cutBetween(columns[input], { upTo, next });
    builder.set(root + node, input, child, threshold, grown.gapsLeft(node));
  }
  return true;
}
