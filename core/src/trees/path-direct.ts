import { gapsLeftFlag, levelsFlag } from './ensemble.ts';
import type { Weighed } from './path-contributions.ts';
import { edgeRatio, edgeShare, stateAfter, wentElsewhere } from './path-state.ts';

/** Goes through all trees with one patient at a time; what is reckoned on the way serves no other. */
export class PathDirect {
  private readonly sums: Float64Array;
  private readonly states: Uint8Array;
  private readonly parts: Float64Array;
  private readonly products: Float64Array;
  private readonly beneath: Float64Array;
  private at: Float64Array = new Float64Array(0);
  private weights: Float64Array = new Float64Array(0);

  constructor(
    private readonly weighed: Weighed,
    private readonly width: number,
  ) {
    this.sums = new Float64Array(width);
    this.states = new Uint8Array(width);
    this.parts = new Float64Array(width).fill(1);
    const room = weighed.trees.reduce(
      (most, { depth, places }) => Math.max(most, (depth + 1) * places),
      0,
    );
    this.products = new Float64Array(room);
    this.beneath = new Float64Array(room);
  }

  /** What each input adds for the patient of a row; overwritten by the next one. */
  of(columns: Float64Array[], row: number): Float64Array {
    this.sums.fill(0);
    const values = Float64Array.from({ length: this.width }, (_, j) => columns[j][row]);
    for (const { root, depth, places } of this.weighed.trees) {
      if (depth === 0) continue;
      const { at, weights } = this.weighed.quadratures.get(places)!;
      this.at = at;
      this.weights = weights;
      this.products.fill(1, 0, places);
      this.visit(root, 0, values);
    }
    return this.sums;
  }

  private visit(node: number, here: number, values: Float64Array): void {
    const { at, weights, states, parts, products, beneath } = this;
    const { ensemble, leaves, goes } = this.weighed;
    const { input, child } = ensemble;
    const places = at.length;
    const next = here + places;
    const j = input[node];
    const [state, before] = [states[j], parts[j]];
    const way = child[node] + (this.goesLeft(node, values[j]) ? 0 : 1);
    for (let k = here; k < next; k++) beneath[k] = 0;
    let added = 0;
    for (let below = child[node]; below <= child[node] + 1; below++) {
      const isHere = below === way;
      const after = before * goes[below];
      // Once elsewhere, an edge takes its part of the patients, whatever the place, and counts for nothing.
      const isElsewhere = state === wentElsewhere;
      if (isElsewhere)
        for (let k = 0; k < places; k++) products[next + k] = products[here + k] * goes[below];
      else
        for (let k = 0; k < places; k++)
          products[next + k] = products[here + k] * edgeRatio(at[k], state, isHere, before, after);
      if (input[below] < 0)
        for (let k = 0; k < places; k++) beneath[next + k] = leaves[below] * products[next + k];
      else {
        states[j] = stateAfter(state, isHere);
        parts[j] = after;
        this.visit(below, next, values);
      }
      for (let k = 0; k < places; k++) beneath[here + k] += beneath[next + k];
      if (isElsewhere) continue;
      for (let k = 0; k < places; k++)
        added += weights[k] * beneath[next + k] * edgeShare(at[k], state, isHere, before, after);
    }
    states[j] = state;
    parts[j] = before;
    this.sums[j] += added;
  }

  private goesLeft(node: number, value: number): boolean {
    const { threshold, flags, goesLeft } = this.weighed.ensemble;
    if (Number.isNaN(value)) return (flags[node] & gapsLeftFlag) !== 0;
    return (flags[node] & levelsFlag) !== 0
      ? goesLeft[threshold[node] + value] === 1
      : value < threshold[node];
  }
}
