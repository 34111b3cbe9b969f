import * as z from 'zod';
import type { Inputs } from '../../inputs/index.ts';
import type { Points } from './search.ts';

export type Distance = 'euclidean' | 'manhattan' | 'gower';

/** How values of inputs become places, so that differences of inputs can be added up. */
export const spaceSchema = z.object({
  distance: z.enum(['euclidean', 'manhattan', 'gower']),
  inputs: z.array(
    z.object({
      input: z.string(),
      /** A category: one column a level, that is its size where a patient has the level, else 0. */
      levels: z.array(z.string()).optional(),
      /** A number: (value - middle) × size. */
      middle: z.number(),
      size: z.number(),
    }),
  ),
});
export type Space = z.infer<typeof spaceSchema>;

/**
 * Numbers in SDs (divisor n), or for Gower (1971, Biometrics 27:857-871) in shares of their range; of
 * two patients of different levels the difference is what it is on average of two in a normal number,
 * for Gower 1. Numbers that the analyst rescaled are taken as they are. Inputs in which patients do not differ are
 * left out.
 */
export function spaceOf(inputs: Inputs, distance: Distance, weights?: Float64Array): Space {
  const found = inputs.columns.map((column, j): Space['inputs'][number] | undefined => {
    const input = inputs.names[j];
    const levels = inputs.levels?.[j];
    const moments = momentsOf(column, weights);
    if (!moments) return undefined;
    if (inputs.scaled?.[j]) return { input, middle: 0, size: 1 };
    const { low, high, mean, deviation } = moments;
    if (levels) return { input, levels, middle: 0, size: levelSize[distance] };
    const size = 1 / (distance === 'gower' ? high - low : deviation);
    // The spread of enormous numbers is beyond what a number can hold, and says nothing.
    return Number.isFinite(size) && size > 0 ? { input, middle: mean, size } : undefined;
  });
  return { distance, inputs: found.filter((one) => one !== undefined) };
}

/** Two columns differ by it where levels differ: 2 in squares, 2/√π in differences, as of two normal numbers. */
const levelSize: Record<Distance, number> = {
  euclidean: 1,
  manhattan: 1 / Math.sqrt(Math.PI),
  gower: 1 / 2,
};

/** Undefined where fewer than two different values are known. */
function momentsOf(column: Float64Array, weights?: Float64Array) {
  let [low, high, total, sum] = [Infinity, -Infinity, 0, 0];
  for (let i = 0; i < column.length; i++) {
    const value = column[i];
    if (value !== value) continue;
    const weight = weights ? weights[i] : 1;
    if (value < low) low = value;
    if (value > high) high = value;
    total += weight;
    sum += weight * value;
  }
  if (!(high > low) || total === 0) return undefined;
  const mean = sum / total;
  let squares = 0;
  for (let i = 0; i < column.length; i++) {
    const away = column[i] - mean;
    if (away === away) squares += (weights ? weights[i] : 1) * away * away;
  }
  return { low, high, mean, deviation: Math.sqrt(squares / total) };
}

/** Where patients stand. Throws where an input is not there. */
export function placesOf({ inputs: kept }: Space, inputs: Inputs): Float64Array {
  const columns = widthOf(kept);
  const places = new Float64Array(inputs.rowCount * columns);
  let first = 0;
  for (const { input, levels, middle, size } of kept) {
    const j = inputs.names.indexOf(input);
    if (j < 0) throw new Error(`The model reads ${input}, which is not among the inputs.`);
    const column = inputs.columns[j];
    const width = levels?.length ?? 1;
    for (let row = 0; row < inputs.rowCount; row++) {
      const at = row * columns + first;
      const value = column[row];
      if (!levels) places[at] = (value - middle) * size;
      else if (value !== value) places.fill(NaN, at, at + width);
      else places[at + value] = size;
    }
    first += width;
  }
  return places;
}

const widthOf = (kept: Space['inputs']) =>
  kept.reduce((sum, { levels }) => sum + (levels?.length ?? 1), 0);

/** Patients as points among whom others are sought. */
export function pointsOf({ distance, inputs: kept }: Space, places: Float64Array): Points {
  const shares = Float64Array.from(
    kept.flatMap(({ levels }) =>
      levels ? Array<number>(levels.length).fill(1 / levels.length) : [1],
    ),
  );
  return {
    rowCount: shares.length === 0 ? 0 : places.length / shares.length,
    values: places,
    shares,
    by: distance === 'euclidean' ? 'squares' : 'absolutes',
  };
}

/** In the measure's own unit: a root of squares, or of all that could differ the share that does. */
export const distanceFrom = ({ distance, inputs }: Space, sum: number): number =>
  distance === 'euclidean' ? Math.sqrt(sum) : distance === 'gower' ? sum / inputs.length : sum;
