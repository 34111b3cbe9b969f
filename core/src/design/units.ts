import type { Patients } from './patients.ts';

/** Patients who go together are one. */
export type Units = Pick<Patients, 'keys' | 'ofRow'>;

/**
 * Patients who must stay together: those of one group, and those of two groups that share a patient.
 * Whoever has no group stands alone.
 *
 * @param groups the group of each row; empty where it is not known
 */
export function unitsOf({ keys, ofRow }: Patients, groups: string[]): Units {
  const parents = Int32Array.from(keys.keys());
  const rootOf = (patient: number) => {
    while (parents[patient] !== patient) patient = parents[patient] = parents[parents[patient]];
    return patient;
  };
  const first = new Map<string, number>();
  for (let row = 0; row < groups.length; row++) {
    if (groups[row] === '') continue;
    const known = first.get(groups[row]);
    if (known === undefined) first.set(groups[row], ofRow[row]);
    else parents[rootOf(ofRow[row])] = rootOf(known);
  }
  // Known by the first group in the alphabet, so that the order of rows plays no part.
  const names = new Map<number, string>();
  for (const [group, patient] of first) {
    const root = rootOf(patient);
    const name = names.get(root);
    if (name === undefined || group < name) names.set(root, group);
  }
  const places = new Map<string, number>();
  const placeOf = new Int32Array(keys.length).fill(-1);
  const ofUnit = new Int32Array(ofRow.length);
  for (let row = 0; row < ofRow.length; row++) {
    const root = rootOf(ofRow[row]);
    if (placeOf[root] < 0) {
      const name = names.get(root);
      const key = name === undefined ? keys[root] : `group:${name}`;
      placeOf[root] = places.get(key) ?? places.size;
      places.set(key, placeOf[root]);
    }
    ofUnit[row] = placeOf[root];
  }
  return { keys: [...places.keys()], ofRow: ofUnit };
}
