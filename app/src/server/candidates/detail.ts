import { nestedFits } from './nested.ts';
import { fittedCandidate, keptFacets } from './store.ts';
import type { CandidateDetail } from '../../contract/candidates.ts';

export async function candidateDetail(id: string): Promise<CandidateDetail> {
  const { model, warnings } = await fittedCandidate(id);
  const facets = await keptFacets(id, model);
  const { inputs } = model.preparation;
  return {
    id,
    warnings,
    facets,
    inputs,
    nested: await nestedFits({ id, facets, inputs }),
    preparation: model.preparation,
    labels: Object.fromEntries(
      model.predictors.map(({ name, label, unit, kind }) => [name, { label, unit, kind }]),
    ),
  };
}
