import { useState, type SyntheticEvent } from 'react';
import type { Basis, Design } from '@rook-scale/core/design';
import type { FamilyDescription, Settings } from '@rook-scale/core/families';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { searchMeasures } from '@rook-scale/core/search';
import { ask, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { searchRoutes } from '../../contract/searches.ts';
import { MeasureField, SearchFoot, type FoundPlan } from '../search/index.ts';
import { BasisChoice } from './BasisChoice.tsx';
import { SettingFields, useSettings } from './SettingFields.tsx';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparations'>;
  family: FamilyDescription;
  kind: OutcomeKind;
  /** Folds, times they are dealt. */
  parts: number;
  first?: Settings;
  firstBasis: Basis;
  onClose: () => void;
  onAdded: (search: string) => void;
}

/** Numbers of patients that are compared. */
const steps = 7;

/** The same fit on more and more of the patients, to see whether more would help. */
export function GrowingForm(props: Props) {
  const { studyId, design, family, kind, parts, onClose, onAdded } = props;
  const form = useSettings(family, props.first);
  const [basis, setBasis] = useState(props.firstBasis);
  const [measure, setMeasure] = useState(searchMeasures[kind][0].id);
  const [problem, setProblem] = useState<string>();
  const found: FoundPlan =
    basis.own?.length === 0
      ? { why: 'Tick at least one predictor.' }
      : {
          plan: { tried: {}, fixed: {}, way: { kind: 'all' }, measure, growing: { steps } },
          said: `${steps} numbers of patients, from few to all, in ${plural(parts, 'fold')}: ${plural(steps * parts, 'fit')}. `,
        };
  const add = async (fixed: Settings) => {
    if (!('plan' in found)) return;
    setProblem(undefined);
    try {
      const body = { family: family.id, plan: { ...found.plan, fixed }, basis };
      onAdded((await ask(searchRoutes.add, { study: studyId }, { body })).id);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <form
      className={styles.form}
      noValidate
      onSubmit={(event: SyntheticEvent) => void form.handleSubmit(add)(event)}
    >
      <p>
        Each fold learns from more and more of its patients, with as large a share of each outcome;
        those who are predicted stay the same.
      </p>
      <SettingFields {...{ studyId, family, form }} predictors={design.predictors} />
      <MeasureField kind={kind} value={measure} onChange={setMeasure} />
      <BasisChoice studyId={studyId} design={design} value={basis} onChange={setBasis} />
      <SearchFoot
        {...{ studyId, found, problem, onClose }}
        adding={form.formState.isSubmitting}
        asked={{ family: family.id, basis }}
        submit="Draw the curve"
      />
    </form>
  );
}
