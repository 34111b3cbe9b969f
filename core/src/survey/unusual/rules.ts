import type { Inputs } from '../../preparation/index.ts';
import { binInputs, growTree, numberTarget, type Tree } from '../../trees/index.ts';

/** What some unusual patients have in common. */
export interface UnusualRule {
  patients: number;
  /** Their mean score. */
  mean: number;
  conditions: UnusualCondition[];
}

export interface UnusualCondition {
  column: string;
  /** A number: at least so much, and less than so much. */
  from?: number;
  below?: number;
  /** One of these levels. */
  levels?: string[];
  /** Who lacks the column is among them; only they where nothing else is said. */
  orNotKnown?: boolean;
}

/** Questions of the small tree that explains scores. */
const depth = 3;
/** Rules that are shown at most. */
const most = 4;

/**
 * A small tree that is grown towards the scores, read from its most unusual leaves. Leaves that are not more
 * unusual than patients on the whole are no rules.
 */
export function unusualRules(inputs: Inputs, scores: Float64Array): UnusualRule[] {
  const all = Int32Array.from({ length: inputs.rowCount }, (_, row) => row);
  const mean = scores.reduce((sum, one) => sum + one, 0) / scores.length;
  const leastLeaf = Math.max(5, Math.ceil(inputs.rowCount / 100));
  const tree = growTree(binInputs(inputs), numberTarget(scores.map((one) => one - mean)), all, {
    depth,
    leastNode: 2 * leastLeaf,
    leastLeaf,
  });
  const rules: UnusualRule[] = [];
  const walk = (node: number, conditions: UnusualCondition[]) => {
    const [patients, sum] = tree.sums.subarray(2 * node, 2 * node + 2);
    if (tree.input[node] < 0) {
      if (conditions.length > 0 && sum > 0)
        rules.push({ patients, mean: mean + sum / patients, conditions });
      return;
    }
    walk(tree.left[node], narrowed(conditions, conditionOf(inputs, tree, node, true)));
    walk(tree.right[node], narrowed(conditions, conditionOf(inputs, tree, node, false)));
  };
  walk(0, []);
  return rules.sort((one, other) => other.mean - one.mean).slice(0, most);
}

function conditionOf(
  { names, levels, columns }: Inputs,
  tree: Tree,
  node: number,
  isLeft: boolean,
): UnusualCondition {
  const input = tree.input[node];
  const column = names[input];
  const hasGaps = columns[input].some(Number.isNaN);
  const gaps = hasGaps && (tree.gapsLeft[node] === 1) === isLeft ? { orNotKnown: true } : {};
  const own = levels?.[input];
  const threshold = tree.threshold[node];
  if (own) {
    const begin = tree.sets[node];
    const goesLeft = (level: number) =>
      begin < 0 ? level < threshold : tree.goesLeft[begin + level] === 1;
    return { column, levels: own.filter((_, level) => goesLeft(level) === isLeft), ...gaps };
  }
  if (threshold === Infinity) return isLeft ? { column } : { column, orNotKnown: true };
  return { column, ...(isLeft ? { below: threshold } : { from: threshold }), ...gaps };
}

/** Two conditions on one column are one that is narrower. */
function narrowed(conditions: UnusualCondition[], more: UnusualCondition): UnusualCondition[] {
  const before = conditions.find(({ column }) => column === more.column);
  if (!before) return [...conditions, more];
  const { levels, from, below } = more;
  const both: UnusualCondition = {
    column: more.column,
    ...numbers(
      Math.max(before.from ?? -Infinity, from ?? -Infinity),
      Math.min(before.below ?? Infinity, below ?? Infinity),
    ),
    ...(levels && { levels: levels.filter((one) => before.levels?.includes(one) ?? true) }),
    ...(!levels && before.levels && { levels: before.levels }),
    ...(before.orNotKnown && more.orNotKnown && { orNotKnown: true }),
  };
  return conditions.map((one) => (one === before ? both : one));
}

const numbers = (from: number, below: number) => ({
  ...(from > -Infinity && { from }),
  ...(below < Infinity && { below }),
});
