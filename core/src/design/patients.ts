import { ascendingOrder, orderingNumbers } from '../numeric/index.ts';

/** Who stands in which row. */
export interface Patients {
  /** One key a patient, in the order of first appearance. */
  keys: string[];
  /** Place in `keys` of each row's patient. */
  ofRow: Int32Array;
  /** Orders by chance that were asked for, by seed and stream: they depend on the keys alone. */
  orders: Map<string, Int32Array>;
}

/** Orders that are remembered; each takes 4 bytes a patient. */
const mostOrders = 4;

/** @param keys one a row; rows with the same key are one patient */
export function patientsOf(keys: string[]): Patients {
  const places = new Map<string, number>();
  const ofRow = new Int32Array(keys.length);
  for (let row = 0; row < keys.length; row++) {
    let place = places.get(keys[row]);
    if (place === undefined) places.set(keys[row], (place = places.size));
    ofRow[row] = place;
  }
  return { keys: [...places.keys()], ofRow, orders: new Map() };
}

/** The patients' places in an order by chance. */
export function orderByChance({ keys, orders }: Patients, seed: number, stream: string) {
  const name = `${seed}|${stream}`;
  const known = orders.get(name);
  if (known) return known;
  const orderOf = orderingNumbers(seed, stream);
  const numbers = new Float64Array(keys.length);
  for (let patient = 0; patient < keys.length; patient++) numbers[patient] = orderOf(keys[patient]);
  const order = ascendingOrder(numbers);
  const oldest = orders.keys().next();
  if (orders.size >= mostOrders && !oldest.done) orders.delete(oldest.value);
  orders.set(name, order);
  return order;
}
