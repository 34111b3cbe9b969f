import * as z from 'zod';
import { groupByStratum } from '../strata.ts';
import { mostFolds, type Dealt, type Folds, type FoldsContext } from './folds.ts';

const choice = z
  .object({
    way: z.literal('by chance'),
    count: z.number().int().min(2).max(50),
    /** How often patients are dealt anew; absent for once, as it was before there were repeats. */
    repeats: z.number().int().min(2).max(20).optional(),
  })
  .refine(({ count, repeats = 1 }) => count * repeats <= mostFolds, {
    message: `Folds times repeats are ${mostFolds} at most.`,
    path: ['repeats'],
  });
type Choice = z.infer<typeof choice>;

/**
 * Folds by chance, stratified by outcome: in each stratum the folds differ by at most one patient,
 * and so do the folds as a whole.
 */
export const byChance: Folds<Choice> = {
  name: 'By chance',
  about: 'Dealt by chance, with the outcome alike in each.',
  choice,
  columns: () => [],
  allocate,
};

function allocate({ patients, strata, rows, seed }: FoldsContext, { count }: Choice): Dealt {
  const foldOf = new Uint8Array(patients.keys.length);
  let next = 0;
  for (const group of groupByStratum(patients, strata, rows, seed, 'fold'))
    for (const patient of group) {
      foldOf[patient] = next;
      next = (next + 1) % count;
    }
  const folds = new Uint8Array(rows.length);
  for (let i = 0; i < rows.length; i++) folds[i] = foldOf[patients.ofRow[rows[i]]];
  return { folds };
}
