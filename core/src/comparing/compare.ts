import { areaUnderCurve, type Clusters } from '../measures/index.ts';
import { correctedMean } from './corrected-t.ts';
import { holm } from './holm.ts';
import { mcNemar } from './mc-nemar.ts';
import { pairedAreas } from './paired-areas.ts';
import { meanOf, redraw } from './redrawn.ts';

/** What two candidates say of the same patients out of fold. */
export interface Compare {
  /** 1 for cases; of each patient once. */
  events: Uint8Array;
  /** Fold of each patient, for each of the times that they were dealt in turn. */
  folds: Uint8Array;
  times: number;
  /** How much each is taken for a case, likewise, and from where on a patient is called in. */
  both: [{ scores: Float64Array; cutoff: number }, { scores: Float64Array; cutoff: number }];
  /** What missing each patient costs, and calling each in for nothing. */
  costs: { missed: ArrayLike<number>; falseAlarm: ArrayLike<number> };
  seed: number;
  /** Of the patients once, where several rows are of one patient or group. */
  clusters?: Clusters;
}

export type ComparedBy = 'cost' | 'area' | 'sensitivity' | 'specificity' | 'accuracy';

export interface ComparedMeasure {
  id: ComparedBy;
  values: [number, number];
  /** The first less the second. */
  difference: number;
  /** 95%. */
  interval?: [number, number];
  p?: number;
  /** Corrected for how many are compared. */
  adjusted?: number;
}

export interface Compared {
  patients: number;
  cases: number;
  times: number;
  measures: ComparedMeasure[];
  /** Patients in whom only the one or only the other calls rightly; absent where folds were dealt several times. */
  onlyRight?: [number, number];
}

/**
 * Differences of cost and of rates by drawing patients anew, of areas after DeLong, or from the folds where
 * they were dealt several times; whether calls are right by McNemar's test.
 */
export function compare({ events, folds, times, both, costs, seed, clusters }: Compare): Compared {
  const patients = events.length;
  const called = both.map(({ scores, cutoff }) => calledShares(scores, cutoff, patients, times));
  const right = called.map((own) => own.map((share, i) => (events[i] ? share : 1 - share)));
  const cost = right.map((own) =>
    own.map((share, i) => 1000 * (1 - share) * (events[i] ? costs.missed[i] : costs.falseAlarm[i])),
  );
  const everybody = new Uint8Array(patients).fill(1);
  const others = events.map((one) => 1 - one);
  const asked: { id: ComparedBy; of: Float64Array[]; counted: Uint8Array }[] = [
    { id: 'cost', of: cost, counted: everybody },
    { id: 'sensitivity', of: right, counted: events },
    { id: 'specificity', of: right, counted: others },
    { id: 'accuracy', of: right, counted: everybody },
  ];
  const drawn = redraw(
    patients,
    asked.map(({ of: [a, b], counted }) => ({ adds: a.map((one, i) => one - b[i]), counted })),
    seed,
    clusters,
  );
  const once = new Uint16Array(patients).fill(1);
  const onlyRight = times === 1 ? countOnly(right) : undefined;
  const found = asked.flatMap(({ id, of, counted }, k): ComparedMeasure[] => {
    const one = drawn[k];
    if (!one) return [];
    const values = of.map((adds) => meanOf({ adds, counted }, once)) as [number, number];
    // McNemar's test takes patients as independent.
    const p = id === 'accuracy' && onlyRight && !clusters ? mcNemar(...onlyRight) : one.p;
    return [{ id, values, ...one, p }];
  });
  const area = compareAreas({ events, folds, times, both, clusters });
  const measures = [...found.slice(0, 1), ...(area ? [area] : []), ...found.slice(1)];
  const tested = measures.filter(({ p }) => p !== undefined);
  holm(tested.map(({ p }) => p!)).forEach((adjusted, k) => (tested[k].adjusted = adjusted));
  return {
    patients,
    cases: events.reduce((sum, one) => sum + one, 0),
    times,
    measures,
    ...(onlyRight && { onlyRight }),
  };
}

/** At what share of the times each patient is called in. */
function calledShares(
  scores: Float64Array,
  cutoff: number,
  patients: number,
  times: number,
): Float64Array {
  const shares = new Float64Array(patients);
  for (let i = 0; i < scores.length; i++)
    if (scores[i] >= cutoff) shares[i % patients] += 1 / times;
  return shares;
}

function countOnly([a, b]: Float64Array[]): [number, number] {
  let [first, second] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    if (a[i] > b[i]) first++;
    if (b[i] > a[i]) second++;
  }
  return [first, second];
}

function compareAreas({
  events,
  folds,
  times,
  both,
  clusters,
}: Omit<Compare, 'costs' | 'seed'>): ComparedMeasure | undefined {
  const [a, b] = both.map(({ scores }) => scores);
  if (times === 1) {
    const paired = pairedAreas(events, a, b, clusters);
    if (!paired) return undefined;
    const { areas, difference, interval, p } = paired;
    return { id: 'area', values: areas, difference, interval, p };
  }
  const members = new Map<number, number[]>();
  folds.forEach((fold, i) => {
    const rows = members.get(fold);
    if (rows) rows.push(i);
    else members.set(fold, [i]);
  });
  const areas = [...members.values()].flatMap((rows) => {
    const own = [a, b].map((scores) =>
      areaUnderCurve(
        rows.map((i) => scores[i]),
        rows.map((i) => events[i % events.length]),
      ),
    );
    return own[0] && own[1] ? [[own[0].value, own[1].value]] : [];
  });
  if (areas.length === 0) return undefined;
  const perTime = members.size / times;
  const corrected = correctedMean(
    areas.map(([one, other]) => one - other),
    1 / (perTime - 1),
  );
  const values = [0, 1].map(
    (k) => areas.reduce((sum, pair) => sum + pair[k], 0) / areas.length,
  ) as [number, number];
  return {
    id: 'area',
    values,
    difference: values[0] - values[1],
    ...(corrected && { interval: corrected.interval, p: corrected.p }),
  };
}
