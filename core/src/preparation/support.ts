import * as z from 'zod';
import type { Outcome, OutcomeKind } from '../outcome/index.ts';

/**
 * What stands behind an input before it is one of its own: so many patients who have what it marks,
 * and among them so many whose outcome is not the commonest one there. With fewer, a coefficient is
 * one or two patients' story, and with none of another outcome it has no finite value at all. Common
 * practice is a handful; no one source. A number as the outcome has a finite coefficient in any case.
 */
export const fewest = { patients: 5, ofEach: 2 } as const;

/** Who has what an input marks, as it is kept and told. */
export const supportSchema = z.object({
  patients: z.number(),
  /** Yes/no outcomes: how many of them have the event. */
  events: z.number().optional(),
  /** Several levels: how many have another level than the commonest among them. */
  others: z.number().optional(),
});
export type Support = z.infer<typeof supportSchema>;

/** The same while it is counted. */
export interface Standing {
  patients: number;
  /** Patients of each outcome; empty where it is a number. */
  groups: number[];
  /** Sum of the outcome, where it is a number. */
  sum: number;
}

/** The outcome as the counting reads it. */
export interface Backing {
  kind: OutcomeKind;
  /** How many different outcomes there are; 0 for a number. */
  groups: number;
  values: ArrayLike<number>;
}

export function backingOf(outcome: Outcome): Backing {
  return {
    kind: outcome.kind,
    groups: groupsOf[outcome.kind](outcome as never),
    values: outcome.values,
  };
}

const groupsOf: { [K in OutcomeKind]: (outcome: Outcome<K>) => number } = {
  event: () => 2,
  levels: ({ levels }) => levels.length,
  number: () => 0,
};

/** Those whose entry in `rows` is 1. */
export function standingOf(rows: Uint8Array, backing: Backing): Standing {
  const standing = nobody(backing);
  for (let row = 0; row < rows.length; row++) if (rows[row]) count(standing, backing, row);
  return standing;
}

export const nobody = ({ groups }: Backing): Standing => ({
  patients: 0,
  groups: new Array<number>(groups).fill(0),
  sum: 0,
});

export function count(standing: Standing, { groups, values }: Backing, row: number): void {
  standing.patients++;
  if (groups > 0) standing.groups[values[row]]++;
  else standing.sum += values[row];
}

/** Everybody but these. */
export function others(all: Standing, some: Standing): Standing {
  return {
    patients: all.patients - some.patients,
    groups: all.groups.map((total, k) => total - some.groups[k]),
    sum: all.sum - some.sum,
  };
}

/** Both together. */
export function joined(a: Standing, b: Standing): Standing {
  return {
    patients: a.patients + b.patients,
    groups: a.groups.map((total, k) => total + b.groups[k]),
    sum: a.sum + b.sum,
  };
}

/** As it is kept. */
export function supportOf({ kind }: Backing, { patients, groups }: Standing): Support {
  if (kind === 'event') return { patients, events: groups[1] };
  return kind === 'levels' ? { patients, others: patients - Math.max(...groups) } : { patients };
}

/**
 * Whether so many patients carry an input of its own.
 *
 * @example hasSupport({ patients: 7, groups: [3, 4], sum: 0 }) // true
 * @example hasSupport({ patients: 40, groups: [39, 1], sum: 0 }) // false: one patient with the event
 */
export function hasSupport({ patients, groups }: Standing): boolean {
  return (
    patients >= fewest.patients &&
    (groups.length === 0 || patients - Math.max(...groups) >= fewest.ofEach)
  );
}

/** How unlike the outcomes of two are: half the sum of differences between shares, or between means. */
export function unlikeness(a: Standing, b: Standing): number {
  if (a.groups.length === 0) return Math.abs(a.sum / a.patients - b.sum / b.patients);
  const even = 1 / a.groups.length;
  // Drawn a little towards even shares, so that one patient alone is not taken for certain.
  const share = ({ patients, groups }: Standing, k: number) => (groups[k] + even) / (patients + 1);
  // Of two shares the other differs by the same, and one difference has one rounding.
  if (a.groups.length === 2) return Math.abs(share(a, 1) - share(b, 1));
  let sum = 0;
  for (let k = 0; k < a.groups.length; k++) sum += Math.abs(share(a, k) - share(b, k));
  return sum / 2;
}
