/** A patient whose log-odds still change by this much in a step is on the way to infinity. */
const stillMoving = 0.05;

/**
 * Whether the step after the last would still change anything. Where there is a maximum it does not:
 * the steps close in on it quadratically, and the last one changed the deviance by 1e-13. Where there
 * is none, each step takes the log-odds of the patients who are told apart about one further.
 *
 * @param moves by patient: how far the log-odds would go
 */
export function isRestless(moves: Float64Array): boolean {
  for (let i = 0; i < moves.length; i++) if (Math.abs(moves[i]) >= stillMoving) return true;
  return false;
}
