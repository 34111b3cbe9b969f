import type { Inputs } from '../../preparation/index.ts';
import { tellsAlone, type ToldAlone } from '../shared/index.ts';
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
