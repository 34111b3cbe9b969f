/** Seconds that the loop below takes on an idle machine of the kind that the limits of time were set on. */
const usual = 0.55;

/**
 * How much slower than usual this machine is just now, 1 at least: limits of time are multiplied by it. A loop is timed
 * by the clock on the wall, so that what else the machine does counts too.
 */
export function paceOfMachine() {
  const begun = performance.now();
  let sum = 0;
  for (let i = 0; i < 1e8; i++) sum += i % 7;
  const seconds = (performance.now() - begun) / 1000;
  return sum > 0 ? Math.max(1, Math.round(seconds / usual)) : 1;
}
