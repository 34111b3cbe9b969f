/** Alternatives that alter the same inputs: one a bit. */
export interface Kind {
  inputs: number[];
  /** Which alternatives these are. */
  all: number[];
  /** Places for the codes of a patient: they are compared eight at a time. */
  lanes: number;
  /** Place of its first among all, where sums are added to two at a time. */
  first: number;
}

export interface Kinds {
  kinds: Kind[];
  /** Places for all. */
  places: number;
  /** Where each alternative is. */
  placed: { kind: number; place: number }[];
}

const mostOfKind = 32;

/** @param altered which inputs are others, by alternative */
export function kindsOf(altered: number[][]): Kinds {
  const open = new Map<string, number[]>();
  const groups: { inputs: number[]; all: number[] }[] = [];
  altered.forEach((inputs, alternative) => {
    const key = inputs.join();
    let all = open.get(key);
    if (!all || all.length === mostOfKind) {
      all = [];
      open.set(key, all);
      groups.push({ inputs, all });
    }
    all.push(alternative);
  });
  let places = 0;
  const placed = altered.map(() => ({ kind: 0, place: 0 }));
  const kinds = groups.map(({ inputs, all }, kind) => {
    all.forEach((alternative, place) => (placed[alternative] = { kind, place }));
    const first = places;
    places += all.length + (all.length % 2);
    return { inputs, all, lanes: 8 * Math.ceil(all.length / 8), first };
  });
  return { kinds, places, placed };
}
