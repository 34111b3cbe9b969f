/** What a patient's way down a tree has met of an input: no question, always the way here, or another way once. */
export const notAsked = 0;
export const wentHere = 1;
export const wentElsewhere = 2;

/** What the patient's own going this way makes of the state. */
export const stateAfter = (state: number, isHere: boolean): number =>
  state !== wentElsewhere && isHere ? wentHere : wentElsewhere;

/**
 * Of an edge at a place t of the quadrature: by how much the product of factors changes, and what the sum beneath
 * counts for the input. `before` and `after` are the parts of patients who, by this input alone, would be at the
 * question and behind it.
 */
export function edgeRatio(
  t: number,
  state: number,
  isHere: boolean,
  before: number,
  after: number,
): number {
  const old = factorAt(t, state, before);
  return old > 0 ? factorAt(t, stateAfter(state, isHere), after) / old : 0;
}

export function edgeShare(
  t: number,
  state: number,
  isHere: boolean,
  before: number,
  after: number,
): number {
  return slopeAt(t, stateAfter(state, isHere), after) - slopeAt(t, state, before);
}

/** The factor of an input, between what of the patients is there and whether this one is. */
const factorAt = (t: number, state: number, part: number): number =>
  state === notAsked ? 1 : (state === wentHere ? t : 0) + (1 - t) * part;

/** Its derivative by t, over itself. */
function slopeAt(t: number, state: number, part: number): number {
  if (state === notAsked) return 0;
  const factor = factorAt(t, state, part);
  return factor > 0 ? ((state === wentHere ? 1 : 0) - part) / factor : 0;
}
