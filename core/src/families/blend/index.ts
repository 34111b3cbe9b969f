import * as z from 'zod';
import { preparationSchema } from '../../preparation/index.ts';
import type { Family, Fitted, Saved } from '../family.ts';
import { blendOf, columnsRead, type BlendedPart } from './blended.ts';
import { blend as description } from './description.ts';

export { chosenFrom, saidBy, weightedSum, type BlendedPart } from './blended.ts';
export { mostParts } from './description.ts';
export { leastSquaresWeights } from './weights.ts';

const savedSchema = z.object({
  /** Columns that the parts are given, as they are. */
  names: z.array(z.string()),
  parts: z.array(
    z.object({
      name: z.string(),
      family: z.string(),
      weight: z.number().min(0).max(1),
      predictors: z.array(z.string()),
      preparation: preparationSchema,
      correction: z.object({ share: z.number(), learned: z.number() }).optional(),
      saved: z.object({ version: z.number().int(), json: z.unknown() }),
    }),
  ),
});

/** Whoever has the list of all families tells which one a part is of. */
type FamilyOf = (id: string) => Family;

/** Several fitted candidates as one. It is fitted part by part, by whoever fits candidates. */
export const blendFamily = (familyOf: FamilyOf): Family => ({
  description,

  fit() {
    throw new Error('A blend is fitted part by part.');
  },

  revive(saved) {
    const { names, parts } = unpack(saved, familyOf);
    return blended(parts, names);
  },

  reads(saved) {
    const { names, parts } = unpack(saved, familyOf);
    return columnsRead(parts, names);
  },
});

/** A blend of these parts. @param names of the columns that they are given */
export function blended(parts: BlendedPart[], names: string[]): Fitted {
  return {
    predict: (inputs) => blendOf(parts, inputs),
    save: () => pack(parts, names),
  };
}

/** How the parts of a kept blend were prepared. */
export const preparationsWithin = ({ json }: Pick<Saved, 'json'>) =>
  savedSchema.parse(json).parts.map(({ preparation }) => preparation);

/** Arrays of the parts stand side by side under their place. */
function pack(parts: BlendedPart[], names: string[]): Saved {
  const saved = parts.map(({ fitted }) => fitted.save());
  return {
    version: 1,
    json: {
      names,
      parts: parts.map(({ name, family, weight, predictors, preparation, correction }, k) => ({
        ...{ name, family, weight, predictors, preparation },
        ...(correction && { correction }),
        saved: { version: saved[k].version, json: saved[k].json },
      })),
    },
    arrays: Object.fromEntries(
      saved.flatMap(({ arrays }, k) =>
        Object.entries(arrays).map(([name, one]) => [`${k} ${name}`, one]),
      ),
    ),
  };
}

function unpack({ json, arrays }: Saved, familyOf: FamilyOf) {
  const { names, parts } = savedSchema.parse(json);
  return {
    names,
    parts: parts.map(({ saved, ...part }, k): BlendedPart => {
      const family = familyOf(part.family);
      const prefix = `${k} `;
      const own = Object.entries(arrays).flatMap(([name, one]) =>
        name.startsWith(prefix) ? [[name.slice(prefix.length), one] as const] : [],
      );
      const kept = { ...saved, arrays: Object.fromEntries(own) };
      return { ...part, fitted: family.revive(kept), reads: family.reads?.(kept, namesOf(part)) };
    }),
  };
}

const namesOf = ({ preparation }: Pick<BlendedPart, 'preparation'>): string[] =>
  preparation.inputs.map(({ name }) => name);
