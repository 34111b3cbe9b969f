import { useState } from 'react';
import type { Basis, Design } from '@rook-scale/core/design';
import type { FamilyDescription, Settings } from '@rook-scale/core/families';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { searchMeasures } from '@rook-scale/core/search';
import { ask, messageOf } from '../../browser/api.ts';
import { searchRoutes } from '../../contract/searches.ts';
import type { FoundPlan } from '../search/index.ts';
import { useSettings } from './SettingFields.tsx';

/** What a form is given that compares fits with one value of each setting. */
export interface ComparedFormProps {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparation' | 'preparations'>;
  family: FamilyDescription;
  kind: OutcomeKind;
  /** Folds, times they are dealt. */
  parts: number;
  first?: Settings;
  firstBasis: Basis;
  onClose: () => void;
  onAdded: (search: string) => void;
}

/** What such forms ask alike, and how they ask for the search. */
export function useComparedForm(props: ComparedFormProps) {
  const { studyId, family, kind, onAdded } = props;
  const form = useSettings(family, props.first);
  const [basis, setBasis] = useState(props.firstBasis);
  const [measure, setMeasure] = useState(searchMeasures[kind][0].id);
  const [problem, setProblem] = useState<string>();
  /** @param asked what is fitted on, where that is not the basis as it was chosen */
  const submit = (found: FoundPlan, asked = basis) =>
    form.handleSubmit(async (fixed: Settings) => {
      if (!('plan' in found)) return;
      setProblem(undefined);
      try {
        const body = { family: family.id, plan: { ...found.plan, fixed }, basis: asked };
        onAdded((await ask(searchRoutes.add, { study: studyId }, { body })).id);
      } catch (error) {
        setProblem(messageOf(error));
      }
    });
  return { form, basis, setBasis, measure, setMeasure, problem, submit };
}
