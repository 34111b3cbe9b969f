/**
 * Risks sorted once, from the highest, with running counts: after that the error table of any
 * cutoff is one binary search, also for 100,000 patients.
 */
export interface RankedRisks {
  patients: number;
  events: number;
  /** Descending. */
  risks: Float64Array;
  /** A cutoff that no score reaches. */
  nobody: number;
  /** `eventsAbove[i]` of the first i patients have the event; length patients + 1. */
  eventsAbove: Int32Array;
  /** Where each patient has costs of his own. */
  own?: OwnCostsAbove;
}

/** What an error costs each patient, in the study's unit; one entry a patient. */
export interface PatientCosts {
  missed: Float64Array;
  falseAlarm: Float64Array;
}

/** Summed over the first i patients; length patients + 1. */
interface OwnCostsAbove {
  /** What missing those of them with the event would cost. */
  missed: Float64Array;
  /** What calling in those of them without it costs. */
  falseAlarms: Float64Array;
}

/** Beyond every risk and share. */
export const nobodyCutoff = 1.001;

/**
 * @param events 1 where the patient has the event, else 0
 * @param nobody a cutoff that no score reaches; the default is for risks and shares
 * @param costs each patient's own, where there are such
 */
export function rankRisks(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  nobody = nobodyCutoff,
  costs?: PatientCosts,
): RankedRisks {
  const patients = risks.length;
  const split = splitByOutcome(risks, events);
  const sorted = new Float64Array(patients);
  const eventsAbove = new Int32Array(patients + 1);
  // Two typed sorts and a merge: several times faster than sorting row numbers by a comparison.
  let e = split.event.length - 1;
  let n = split.none.length - 1;
  for (let i = 0; i < patients; i++) {
    const takeEvent = e >= 0 && (n < 0 || split.event[e] >= split.none[n]);
    sorted[i] = takeEvent ? split.event[e--] : split.none[n--];
    eventsAbove[i + 1] = eventsAbove[i] + Number(takeEvent);
  }
  return {
    patients,
    events: split.event.length,
    risks: sorted,
    nobody,
    eventsAbove,
    ...(costs && { own: costsAbove(risks, events, costs) }),
  };
}

function costsAbove(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  costs: PatientCosts,
): OwnCostsAbove {
  const order = Int32Array.from({ length: risks.length }, (_, i) => i);
  order.sort((a, b) => risks[b] - risks[a]);
  const missed = new Float64Array(risks.length + 1);
  const falseAlarms = new Float64Array(risks.length + 1);
  order.forEach((patient, i) => {
    missed[i + 1] = missed[i] + (events[patient] ? costs.missed[patient] : 0);
    falseAlarms[i + 1] = falseAlarms[i] + (events[patient] ? 0 : costs.falseAlarm[patient]);
  });
  return { missed, falseAlarms };
}

/** How many patients are called in: risk >= cutoff, so patients with the same risk stay together. */
export function countCalled(ranked: RankedRisks, cutoff: number): number {
  let low = 0;
  let high = ranked.patients;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (ranked.risks[middle] >= cutoff) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Ascending risks of the patients with and without the event. */
export function splitByOutcome(risks: ArrayLike<number>, events: ArrayLike<number>) {
  let count = 0;
  for (let i = 0; i < risks.length; i++) count += events[i];
  const event = new Float64Array(count);
  const none = new Float64Array(risks.length - count);
  let e = 0;
  let n = 0;
  for (let i = 0; i < risks.length; i++) {
    if (events[i]) event[e++] = risks[i];
    else none[n++] = risks[i];
  }
  return { event: event.sort(), none: none.sort() };
}
