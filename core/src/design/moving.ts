import type { Patients } from './patients.ts';

/** What is done with patients whose rows are of several groups; without a choice their groups are kept together. */
export const movings = ['most frequent', 'first', 'development'] as const;
export type Moving = (typeof movings)[number];

/**
 * Patients whose rows are of several groups.
 *
 * @param groups the group of each row; empty where it is not known
 * @example rows of patient A in North and South, of B in North: [A]
 */
export function movingPatients(
  { keys, ofRow }: Pick<Patients, 'keys' | 'ofRow'>,
  groups: string[],
) {
  const first = new Array<string | undefined>(keys.length);
  const moving = new Set<number>();
  for (let row = 0; row < groups.length; row++) {
    if (groups[row] === '') continue;
    const patient = ofRow[row];
    first[patient] ??= groups[row];
    if (first[patient] !== groups[row]) moving.add(patient);
  }
  return [...moving];
}

/**
 * The group of each row once patients of several groups are settled: all rows of such a patient are of the group of
 * most of their rows (of several the first), or of the first row. Those who go to development have no group.
 */
export function settleGroups(
  patients: Pick<Patients, 'keys' | 'ofRow'>,
  groups: string[],
  how: Moving,
): string[] {
  const moving = new Set(movingPatients(patients, groups));
  const counts = new Map<number, Map<string, number>>();
  groups.forEach((group, row) => {
    const patient = patients.ofRow[row];
    if (group === '' || !moving.has(patient)) return;
    const own = counts.get(patient) ?? new Map<string, number>();
    own.set(group, (own.get(group) ?? 0) + 1);
    counts.set(patient, own);
  });
  const settled = new Map(
    [...counts].map(([patient, own]) => [
      patient,
      how === 'development' ? '' : groupFrom(own, how),
    ]),
  );
  return groups.map((group, row) => settled.get(patients.ofRow[row]) ?? group);
}

/** Groups are counted in the order of rows. */
function groupFrom(counts: Map<string, number>, how: 'most frequent' | 'first'): string {
  const [first] = counts.keys();
  if (how === 'first') return first;
  return [...counts].reduce((best, one) => (one[1] > best[1] ? one : best))[0];
}
