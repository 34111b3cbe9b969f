/** Seconds that the loop below takes on the idle machine for which the limits of time were set. */
const usual = 0.55;

/**
 * How much slower than usual this machine is now, at least 1. Limits of time are multiplied by it. The loop is timed by
 * wall clock, so that other load counts.
 */
export function paceOfMachine() {
  const begun = performance.now();
  let sum = 0;
  for (let i = 0; i < 1e8; i++) sum += i % 7;
  const seconds = (performance.now() - begun) / 1000;
  return sum > 0 ? Math.max(1, Math.round(seconds / usual)) : 1;
}
