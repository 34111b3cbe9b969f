import { useState } from 'react';
import { columnReference } from '@rook-scale/core/formula';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { messageOf } from '../../browser/api.ts';
import { putDictionary } from '../../browser/edits.ts';
import { Button, Dialog, DialogActions, Field, Notice } from '../../components/index.ts';
import { BandsHelp } from './BandsHelp.tsx';
import { FormulaField } from './FormulaField.tsx';
import styles from './Formula.module.css';
import { Tried } from './Tried.tsx';
import { useTried } from './use-tried.ts';

interface Props {
  cohort: CohortInfo;
  /** The derived column to change; a new one when left out. */
  entry?: DictionaryEntry;
  onDone: (name: string) => void;
  onClose: () => void;
}

/** A column worked out from others, seen on rows while it is written. */
export function DeriveDialog({ cohort, entry, onDone, onClose }: Props) {
  const [name, setName] = useState(entry?.label ?? '');
  const [unit, setUnit] = useState(entry?.unit ?? '');
  const [formula, setFormula] = useState(entry?.formula ?? '');
  const [problem, setProblem] = useState<string>();
  const [saving, setSaving] = useState(false);
  const place = entry ? cohort.dictionary.indexOf(entry) : cohort.dictionary.length;
  const readable = cohort.dictionary.slice(0, place < 0 ? undefined : place);
  const { tried, pending, problem: failed } = useTried(cohort, formula, entry?.name);
  const taken =
    !entry &&
    cohort.dictionary.some(
      (one) => one.name === name.trim() || display(one).toLowerCase() === name.trim().toLowerCase(),
    );
  const fault = taken ? 'Another column is called so already.' : undefined;
  const ready = name.trim() !== '' && !fault && tried?.understood === true && !pending;
  const save = async () => {
    if (tried?.understood !== true) return;
    setSaving(true);
    setProblem(undefined);
    const made: DictionaryEntry = {
      name: entry?.name ?? name.trim(),
      label: name.trim(),
      unit: tried.kind === 'number' ? unit.trim() : '',
      kind: tried.kind,
      role: entry?.role ?? (tried.kind === 'date' ? 'set aside' : 'predictor'),
      missingCodes: [],
      formula: formula.trim(),
    };
    const mine = entry
      ? cohort.dictionary.map((one) => (one === entry ? made : one))
      : [...cohort.dictionary, made];
    try {
      await putDictionary(cohort.id, cohort.dictionary, mine);
      onDone(made.name);
    } catch (error) {
      setProblem(messageOf(error));
      setSaving(false);
    }
  };
  return (
    <Dialog title={entry ? `Change ${display(entry)}` : 'Derive a column'} wide onClose={onClose}>
      <div className={styles.names}>
        <Field label="Name" error={fault}>
          {(ids) => (
            <input
              {...ids}
              value={name}
              maxLength={200}
              onChange={(event) => setName(event.target.value)}
            />
          )}
        </Field>
        <Field label="Unit">
          {(ids) => (
            <input
              {...ids}
              value={unit}
              maxLength={40}
              disabled={tried?.understood === true && tried.kind !== 'number'}
              onChange={(event) => setUnit(event.target.value)}
            />
          )}
        </Field>
      </div>
      <FormulaField
        label="Formula"
        value={formula}
        onChange={setFormula}
        dictionary={readable}
        tried={tried}
        placeholder="urea / creatinine"
      />
      {formula.trim() === '' && (
        <BandsHelp
          dictionary={readable}
          onTake={(column, edges) =>
            setFormula(`bands(${columnReference(column)}, ${edges.join(', ')})`)
          }
        />
      )}
      {tried?.understood && <Tried tried={tried} cohort={cohort} />}
      {(problem ?? failed) && <Notice>{problem ?? failed}</Notice>}
      <p className="quiet">
        It travels with the model: in every later cohort it is worked out the same way.
      </p>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={!ready || saving} onClick={() => void save()}>
          {saving ? 'Working it out' : entry ? 'Change the column' : 'Add the column'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
