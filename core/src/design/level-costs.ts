import * as z from 'zod';
import type { Design } from './design.ts';

const cost = z
  .number({ error: 'A cost is a number from 0 on.' })
  .min(0, 'A cost is not below 0.')
  .max(1e9, 'A cost is at most 1e9.');

/** What giving a level costs: `costs[i][j]` for a patient with `levels[i]` who is given `levels[j]`. */
export const levelCostsSchema = z
  .object({
    levels: z.array(z.string()).max(1000),
    costs: z.array(z.array(cost)),
  })
  .refine(
    ({ levels, costs }) =>
      costs.length === levels.length && costs.every((row) => row.length === levels.length),
    'The table of costs needs a row and a column for every level.',
  );

/**
 * What giving each level (in columns) costs by the true one (in rows), where errors are those of all
 * patients; undefined where there are none. @param levels of the outcome, where there are several
 */
export function costTable(
  design: Pick<Design, 'kind' | 'missedCost' | 'falseAlarmCost' | 'levelCosts'>,
  levels: string[],
): number[][] | undefined {
  if (design.kind === 'number') return undefined;
  if (design.kind === 'event')
    return [
      [0, design.falseAlarmCost],
      [design.missedCost, 0],
    ];
  return levelCostsOf(design, levels);
}

/**
 * The table of error costs for these levels, whatever their order; undefined where every error costs
 * the same. What the table does not know, a level that was added since, costs 1.
 */
export function levelCostsOf(
  { levelCosts }: Pick<Design, 'levelCosts'>,
  levels: string[],
): number[][] | undefined {
  if (!levelCosts) return undefined;
  const places = levels.map((level) => levelCosts.levels.indexOf(level));
  return places.map((i, row) =>
    places.map((j, column) => (i < 0 || j < 0 ? Number(row !== column) : levelCosts.costs[i][j])),
  );
}
