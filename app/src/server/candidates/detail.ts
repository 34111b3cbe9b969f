import type { Facet, FitWarning } from '@rook-scale/core/families';
import type { InputMeaning } from '@rook-scale/core/preparation';
import type { Model } from '@rook-scale/core/screening';
import { fittedCandidate, keptFacets } from './store.ts';

/** A candidate opened: what its family can say of itself. */
export interface CandidateDetail {
  id: string;
  warnings: FitWarning[];
  facets: Facet[];
  inputs: InputMeaning[];
  preparation: Model['preparation'];
  labels: Record<string, { label: string; unit: string; kind: string }>;
}

export async function candidateDetail(id: string): Promise<CandidateDetail> {
  const { model, warnings } = await fittedCandidate(id);
  return {
    id,
    warnings,
    facets: await keptFacets(id, model),
    inputs: model.preparation.inputs,
    preparation: model.preparation,
    labels: Object.fromEntries(
      model.predictors.map(({ name, label, unit, kind }) => [name, { label, unit, kind }]),
    ),
  };
}
