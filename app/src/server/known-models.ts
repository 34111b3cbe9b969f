import type { Model } from '@rook-scale/core/model';

/** Models that this thread was asked about last: the same one is asked again with every key that is pressed. */
const known = new Map<string, Model>();
const knownAtMost = 4;

/** What a thread says where it does not have the model any more. */
export const needsModel = 'needs the model';

/** The model of a fit: the one that came along, or that of before; undefined where it must be brought. */
export function modelOf({ fit, model }: { fit: string; model?: Model }): Model | undefined {
  const found = model ?? known.get(fit);
  if (!found) return undefined;
  known.delete(fit);
  known.set(fit, found);
  if (known.size > knownAtMost) known.delete(known.keys().next().value!);
  return found;
}
