import * as z from 'zod';
import type { NamedArrays } from '../../stored/index.ts';
import { treeCount, type Ensemble } from '../../trees/index.ts';
import type { ModelSize } from '../family.ts';

/** Trees from the arrays that they were saved as. Throws when it is something else. */
export const keptEnsemble = (arrays: NamedArrays): Ensemble => schema.parse(arrays);

const schema = z.object({
  starts: z.instanceof(Int32Array),
  input: z.instanceof(Int32Array),
  child: z.instanceof(Int32Array),
  threshold: z.instanceof(Float64Array),
  flags: z.instanceof(Uint8Array),
  goesLeft: z.instanceof(Uint8Array),
  values: z.instanceof(Float64Array),
});

/** Names of the inputs that any tree asks about. */
export function askedInputs({ input }: Ensemble, names: string[]): string[] {
  const isAsked = new Uint8Array(names.length);
  for (const j of input) if (j >= 0) isAsked[j] = 1;
  return names.filter((_, j) => isAsked[j] === 1);
}

export const ensembleSize = (ensemble: Ensemble): Partial<ModelSize> => ({
  trees: treeCount(ensemble),
  leaves: leafCount(ensemble),
});

/** Nodes that ask nothing. */
export const leafCount = ({ input }: Pick<Ensemble, 'input'>): number =>
  input.reduce((sum, j) => sum + Number(j < 0), 0);
