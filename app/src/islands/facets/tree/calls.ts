import type { TreeShown } from '@rook-scale/core/families';
import type { ErrorCosts } from '@rook-scale/core/measures';
import { casesIn } from './shape.ts';

/** What becomes of whoever ends in a node, and what that costs among the patients it was grown on. */
export interface NodeCalls {
  isCalled: boolean;
  /** What errors cost if all of them are called in, and if all are left alone. */
  called: number;
  left: number;
}

/**
 * Calls by what the nodes give: a share of cases. Undefined where they give something else.
 *
 * @param given share that whoever ends in a node is given
 */
export function callsOf(
  tree: TreeShown,
  isCase: boolean[],
  given: (place: number) => number,
  cutoff: number,
  { missedCost, falseAlarmCost }: ErrorCosts,
): ((place: number) => NodeCalls) | undefined {
  if (tree.kind === 'number') return undefined;
  return (place) => {
    const cases = casesIn(tree.nodes[place], isCase);
    return {
      isCalled: given(place) >= cutoff,
      called: falseAlarmCost * (tree.nodes[place].patients - cases),
      left: missedCost * cases,
    };
  };
}
