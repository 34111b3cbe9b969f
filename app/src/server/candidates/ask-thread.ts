import type { Model } from '@rook-scale/core/model';
import { needsModel } from '../known-models.ts';
import { fittedCandidate } from './store.ts';

/** Asks a thread about a fit; the model is brought along only where the thread does not have it still. */
export async function withModel<Answer>(
  candidateId: string,
  ask: (brought: { model?: Model }) => Promise<Answer | typeof needsModel>,
): Promise<Answer> {
  const answer = await ask({});
  if (answer !== needsModel) return answer;
  const { model } = await fittedCandidate(candidateId);
  return (await ask({ model })) as Answer;
}
