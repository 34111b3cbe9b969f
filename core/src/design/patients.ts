/** Who stands in which row. */
export interface Patients {
  /** One key a patient, in the order of first appearance. */
  keys: string[];
  /** Place in `keys` of each row's patient. */
  ofRow: Int32Array;
}

/** @param keys one a row; rows with the same key are one patient */
export function patientsOf(keys: string[]): Patients {
  const places = new Map<string, number>();
  const ofRow = new Int32Array(keys.length);
  for (let row = 0; row < keys.length; row++) {
    let place = places.get(keys[row]);
    if (place === undefined) places.set(keys[row], (place = places.size));
    ofRow[row] = place;
  }
  return { keys: [...places.keys()], ofRow };
}
