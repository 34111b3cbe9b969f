import { clustersOfPredictions } from './clusters.ts';
import { nestedFits } from './nested.ts';
import { fittedCandidate, keptFacets, keptFolds, type CandidateRow } from './store.ts';
import type { CandidateDetail } from '../../contract/candidates.ts';

export async function candidateDetail(id: string): Promise<CandidateDetail> {
  const candidate = await fittedCandidate(id);
  const { model, warnings } = candidate;
  const facets = await keptFacets(id, model);
  const { inputs } = model.preparation;
  return {
    id,
    warnings,
    facets,
    inputs,
    nested: await nestedFits({ id, facets, inputs }),
    preparation: model.preparation,
    ...(await dependentRows(candidate)),
    labels: Object.fromEntries(
      model.predictors.map(({ name, label, unit, kind }) => [name, { label, unit, kind }]),
    ),
  };
}

/** Rows it was fitted on, and of how many patients or groups, where some have several. */
async function dependentRows(candidate: CandidateRow): Promise<Pick<CandidateDetail, 'dependent'>> {
  const clusters = await clustersOfPredictions(candidate, 'out of fold');
  if (!clusters) return {};
  const { times } = await keptFolds(candidate.id);
  return { dependent: { rows: clusters.length / times, clusters: new Set(clusters).size } };
}
