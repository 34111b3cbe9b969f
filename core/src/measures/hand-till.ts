import type { Outcome, Predictions } from '../outcome/index.ts';
import { takeClusters, type Clusters } from './clusters.ts';
import { areaUnderCurve, type Area } from './roc.ts';

/** How well shares rank patients by level. */
export interface LevelAreas {
  /** Of each level against all others; absent where nobody, or everybody, has it. */
  levels: { level: string; patients: number; area?: Area }[];
  /** Mean over the levels that have an area, each as often as patients have it, and plain. */
  weighted?: number;
  macro?: number;
  /**
   * Mean over all pairs of levels, each judged among the patients of both alone, so that it does not depend
   * on how common levels are: Hand & Till (2001), Machine Learning 45:171-186. Absent where fewer than
   * two levels are there.
   */
  pairs?: number;
}

/** @param clusters of the rows, where several are of one patient or group: intervals are then by cluster */
export function levelAreas(
  { values, levels }: Outcome<'levels'>,
  { shares }: Predictions<'levels'>,
  clusters?: Clusters,
): LevelAreas {
  const width = levels.length;
  const rows = levels.map((_, k) => placesOf(values, k));
  const known = rows.flat();
  const shareOf = (row: number, level: number) => shares[row * width + level];
  const found = levels.map((level, k) => {
    const area = areaUnderCurve(
      known.map((row) => shareOf(row, k)),
      known.map((row) => Number(values[row] === k)),
      takeClusters(clusters, known),
    );
    return { level, patients: rows[k].length, ...(area && { area }) };
  });
  /** How often a patient of the one level has the higher share of it than one of the other. */
  const above = (one: number, other: number) =>
    areaUnderCurve(
      [...rows[one], ...rows[other]].map((row) => shareOf(row, one)),
      [...rows[one].map(() => 1), ...rows[other].map(() => 0)],
    )!.value;
  const there = levels.map((_, k) => k).filter((k) => rows[k].length > 0);
  const pairs = there.flatMap((one, i) =>
    there.slice(i + 1).map((other) => (above(one, other) + above(other, one)) / 2),
  );
  const areas = found.flatMap(({ area, patients }) =>
    area ? [{ value: area.value, patients }] : [],
  );
  const patients = areas.reduce((sum, one) => sum + one.patients, 0);
  return {
    levels: found,
    ...(areas.length > 0 && {
      macro: areas.reduce((sum, { value }) => sum + value, 0) / areas.length,
      weighted: areas.reduce((sum, one) => sum + one.value * one.patients, 0) / patients,
    }),
    ...(pairs.length > 0 && { pairs: pairs.reduce((sum, one) => sum + one, 0) / pairs.length }),
  };
}

function placesOf(values: ArrayLike<number>, level: number): number[] {
  const places: number[] = [];
  for (let i = 0; i < values.length; i++) if (values[i] === level) places.push(i);
  return places;
}
