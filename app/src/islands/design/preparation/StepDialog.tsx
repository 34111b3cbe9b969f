import { useState } from 'react';
import { arrangedStepSchema, stepOf, type ArrangedStep } from '@rook-scale/core/preparation';
import type { DictionaryEntry } from '@rook-scale/core/table';
import { Button, Dialog, DialogActions, Notice } from '../../../components/index.ts';
import { stepForms, type Values } from './fields.ts';
import { StepFieldInput } from './StepFieldInput.tsx';
import styles from './Preparation.module.css';

interface Props {
  /** As it is, or as it begins. */
  step: Values & { step: ArrangedStep['step'] };
  /** The predictors that it can name. */
  predictors: DictionaryEntry[];
  isNew: boolean;
  onTake: (step: ArrangedStep) => void;
  onClose: () => void;
}

/** What a step is to do. */
export function StepDialog({ step, predictors, isNew, onTake, onClose }: Props) {
  const [values, setValues] = useState<Values>(step);
  const [problem, setProblem] = useState<string>();
  const { name, about } = stepOf(step.step);
  const take = () => {
    const wrong = missing(values);
    const parsed = arrangedStepSchema.safeParse(values);
    if (wrong ?? !parsed.success) setProblem(wrong ?? 'Some of it cannot be. Check the numbers.');
    else if (parsed.success) onTake(parsed.data);
  };
  return (
    <Dialog title={name} wide onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        <p className="quiet">{about}</p>
        {stepForms[step.step].fields
          .filter(({ when }) => !when || when(values))
          .map((field) => (
            <StepFieldInput
              key={field.name}
              field={field}
              values={values}
              predictors={predictors}
              onChange={(value) => setValues({ ...values, [field.name]: value })}
            />
          ))}
        {problem && <Notice>{problem}</Notice>}
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit">
            {isNew ? 'Add the step' : 'Change the step'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** What still has to be said before the step can do anything. */
function missing(values: Values): string | undefined {
  const { step, column, columns, pairs, into } = values;
  if (column === '') return 'Choose the column.';
  if (Array.isArray(columns) && columns.length === 0) return 'Choose at least one column.';
  if (step === 'products' && (pairs as unknown[]).length === 0) return 'Add a product.';
  if (step === 'rename levels' && Object.keys(into as object).length === 0)
    return 'Give at least one level another name.';
  if (step === 'not known') {
    const { below, above, values: some } = values;
    if (below === null && above === null && (some as unknown[]).length === 0)
      return 'Say which values are not known.';
  }
  return undefined;
}
