import type { SyntheticEvent } from 'react';
import { plural } from '../../browser/format.ts';
import { MeasureField, SearchFoot, type FoundPlan } from '../search/index.ts';
import { BasisChoice } from './BasisChoice.tsx';
import { useComparedForm, type ComparedFormProps } from './compared-form.ts';
import { SettingFields } from './SettingFields.tsx';
import styles from './Candidates.module.css';

/** Numbers of patients that are compared. */
const steps = 7;

/** The same fit on more and more of the patients, to see whether more would help. */
export function GrowingForm(props: ComparedFormProps) {
  const { studyId, design, family, kind, parts, onClose } = props;
  const { form, basis, setBasis, measure, setMeasure, problem, submit } = useComparedForm(props);
  const found: FoundPlan =
    basis.own?.length === 0
      ? { why: 'Tick at least one predictor.' }
      : {
          plan: { tried: {}, fixed: {}, way: { kind: 'all' }, measure, growing: { steps } },
          said: `${steps} numbers of patients, from few to all, in ${plural(parts, 'fold')}: ${plural(steps * parts, 'fit')}. `,
        };
  return (
    <form
      className={styles.form}
      noValidate
      onSubmit={(event: SyntheticEvent) => void submit(found)(event)}
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
