import * as z from 'zod';
import { arrayLayoutSchema, packArrays, unpackArrays } from '../stored/index.ts';
import type { Ensemble, IsolationForest } from '../trees/index.ts';

/** An isolation forest as plain JSON: its arrays are bytes in base64 (RFC 4648). */
export const keptForestSchema = z.object({
  sample: z.number().int(),
  layout: arrayLayoutSchema,
  bytes: z.string(),
});
export type KeptForest = z.infer<typeof keptForestSchema>;

export function keepForest({ ensemble, sample }: IsolationForest): KeptForest {
  const { layout, bytes } = packArrays({ ...ensemble });
  let text = '';
  // One by one: all at once they would be too many arguments.
  for (const byte of bytes) text += String.fromCharCode(byte);
  return { sample, layout, bytes: btoa(text) };
}

/** The same forest, bit for bit. Throws where the bytes are not those of the layout. */
export function reviveForest({ sample, layout, bytes }: KeptForest): IsolationForest {
  const raw = Uint8Array.from(atob(bytes), (character) => character.charCodeAt(0));
  return { sample, ensemble: unpackArrays(layout, raw) as unknown as Ensemble };
}
