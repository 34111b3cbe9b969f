import type { Inputs } from '../../preparation/index.ts';
import type { Direction } from './separating-direction.ts';

/** Patients whose outcome the inputs tell with certainty, so that no finite estimate exists. */
export interface Separation {
  patients: number;
  /** How many of them have the event. */
  events: number;
  /** Inputs that alone tell an outcome. */
  alone: ToldAlone[];
  /** Without such an input, those that do it together, the weightiest first. */
  together: string[];
}

export interface ToldAlone {
  name: string;
  /**
   * 'one' and 'zero': all patients in whom an indicator is so have the same outcome. 'high' and
   * 'low': a number parts those with the event, who have the high or the low values, from the others.
   */
  where: 'one' | 'zero' | 'high' | 'low';
  /** Whether the patients told have the event. */
  event: boolean;
  patients: number;
}

/** What a separating direction says of the patients and the inputs; undefined where there is none. */
export function findSeparation(
  inputs: Inputs,
  events: ArrayLike<number>,
  direction: Direction | undefined,
): Separation | undefined {
  if (!direction) return undefined;
  const { moves, slopes } = direction;
  let patients = 0;
  let withEvent = 0;
  for (let i = 0; i < moves.length; i++)
    if (moves[i] !== 0) {
      patients++;
      withEvent += events[i];
    }
  const alone = inputs.columns.flatMap((column, j) => tellsAlone(inputs.names[j], column, events));
  const largest = slopes.reduce((most, slope) => Math.max(most, Math.abs(slope)), 0);
  const together = [...slopes.keys()]
    .filter((j) => Math.abs(slopes[j]) > 0.05 * largest)
    .sort((a, b) => Math.abs(slopes[b]) - Math.abs(slopes[a]))
    .map((j) => inputs.names[j]);
  return { patients, events: withEvent, alone, together };
}

/** Whether an input, 0/1 or a number, has values at which everybody has the same outcome. */
function tellsAlone(name: string, column: Float64Array, events: ArrayLike<number>): ToldAlone[] {
  const isIndicator = column.every((value) => value === 0 || value === 1);
  if (isIndicator)
    return [1, 0].flatMap((value): ToldAlone[] => {
      let [patients, withEvent] = [0, 0];
      for (let i = 0; i < column.length; i++)
        if (column[i] === value) {
          patients++;
          withEvent += events[i];
        }
      if (patients === 0 || (withEvent > 0 && withEvent < patients)) return [];
      return [{ name, where: value === 1 ? 'one' : 'zero', event: withEvent > 0, patients }];
    });
  const ends = [
    [Infinity, -Infinity],
    [Infinity, -Infinity],
  ];
  for (let i = 0; i < column.length; i++) {
    const end = ends[events[i] ? 1 : 0];
    if (column[i] < end[0]) end[0] = column[i];
    if (column[i] > end[1]) end[1] = column[i];
  }
  const [none, some] = ends;
  const above = some[0] >= none[1];
  if (!above && some[1] > none[0]) return [];
  return [{ name, where: above ? 'high' : 'low', event: true, patients: column.length }];
}
