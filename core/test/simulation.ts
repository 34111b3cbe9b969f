/** All rounds of a simulation in a long run, a quarter of them otherwise; the bounds follow by `slack`. */
export const roundsOf = (all: number): number =>
  process.env.LONG === 'yes' ? all : Math.ceil(all / 4);

/**
 * How far a simulated share may lie from the true one: 3 standard errors of that many rounds, and 0.01 for what an
 * asymptotic interval misses with few patients.
 */
export const slack = (share: number, rounds: number): number =>
  0.01 + 3 * Math.sqrt((share * (1 - share)) / rounds);
