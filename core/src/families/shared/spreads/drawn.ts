import { densityOf, type KernelSpread, type NormalSpread, type Spread } from './spread.ts';

/** Steps of a drawn curve. */
const steps = 96;

/** Ends of a ruler, densities along it by level, and what share each of its steps has. */
export function drawnOf(spread: Spread, column: Float64Array) {
  return spread.by === 'counts'
    ? { levels: spread.levels, shares: spread.shares }
    : drawnNumbers(spread, column);
}

export function drawnNumbers(spread: NormalSpread | KernelSpread, column: Float64Array) {
  const [low, high] = endsOf(spread, column);
  const at = Array.from({ length: steps + 1 }, (_, k) => low + ((high - low) * k) / steps);
  const count = spread.by === 'normal' ? spread.means.length : spread.widths.length;
  const densities = Array.from({ length: count }, (_, level) =>
    at.map((value) => Number(densityOf(spread, level, value).toPrecision(4))),
  );
  const shares = densities.map((own) => own.map((one) => (one * (high - low)) / (steps + 1)));
  return {
    at: [low, high] as [number, number],
    densities,
    shares,
    ...(spread.by === 'normal' && { means: spread.means, deviations: spread.deviations }),
  };
}

/** Between these nearly all are; a few far ones would press the curves together. */
function endsOf(spread: NormalSpread | KernelSpread, column: Float64Array): [number, number] {
  let [least, most] = [Infinity, -Infinity];
  for (const value of column) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  const ends =
    spread.by === 'normal'
      ? spread.means.map((mean, level) =>
          [-1, 1].map((side) => mean + side * 3.5 * spread.deviations[level]),
        )
      : spread.centres.map((own, level) => {
          let before = 0;
          const upTo = Float64Array.from(spread.masses[level], (mass) => (before += mass));
          return [0.005, 0.995].map((share) => own[upTo.findIndex((sum) => sum >= share - 1e-9)]);
        });
  const from = Math.max(least, Math.min(...ends.map(([low]) => low)));
  const to = Math.min(most, Math.max(...ends.map(([, high]) => high)));
  const room = (to - from) * 0.05;
  return [from - room, to + room];
}
