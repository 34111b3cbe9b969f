import type { Facet, FitWarning } from '@rook-scale/core/families';
import type { InputMeaning } from '@rook-scale/core/preparation';
import type { Model } from '@rook-scale/core/screening';
import { nestedFits, type NestedFit } from './nested.ts';
import { fittedCandidate, keptFacets } from './store.ts';

/** A candidate opened: what its family can say of itself. */
export interface CandidateDetail {
  id: string;
  warnings: FitWarning[];
  facets: Facet[];
  inputs: InputMeaning[];
  preparation: Model['preparation'];
  /** Fits of the same family on the same patients that differ in inputs alone. */
  nested: NestedFit[];
  labels: Record<string, { label: string; unit: string; kind: string }>;
}

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
