/** All rounds of a simulation in a long run, a quarter of them otherwise; the bounds follow by `slack`. */
export const roundsOf = (all: number): number =>
  process.env.LONG === 'yes' ? all : Math.ceil(all / 4);

/**
 * Tolerance of a simulated share: 3 standard errors of that many rounds, and 0.01 for the error of an asymptotic
 * interval with few patients.
 */
export const slack = (share: number, rounds: number): number =>
  0.01 + 3 * Math.sqrt((share * (1 - share)) / rounds);
