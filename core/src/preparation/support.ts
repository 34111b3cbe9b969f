/**
 * What stands behind an input before it is one of its own: so many patients who have what it marks,
 * and among them so many with the event and so many without. With fewer, a coefficient is one or two
 * patients' story, and with none on one side it has no finite value at all. Common practice is a
 * handful; no one source.
 */
export const fewest = { patients: 5, ofEach: 2 } as const;

/** How many patients have what an input marks, and how many of them have the event. */
export interface Support {
  patients: number;
  events: number;
}

/**
 * Whether so many patients carry an input of its own.
 *
 * @example hasSupport({ patients: 7, events: 4 }) // true
 * @example hasSupport({ patients: 40, events: 1 }) // false: one patient with the event
 */
export function hasSupport({ patients, events }: Support): boolean {
  return (
    patients >= fewest.patients && events >= fewest.ofEach && patients - events >= fewest.ofEach
  );
}
