import { useState } from 'react';
import { commonRange, display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../../contract/cohorts.ts';
import { messageOf } from '../../../browser/api.ts';
import { putDictionary } from '../../../browser/edits.ts';
import { showValue } from '../../../browser/format.ts';
import { readNumber } from '../../../browser/numbers.ts';
import { Button, Dialog, DialogActions, Field, Notice } from '../../../components/index.ts';
import { LevelOrder } from './LevelOrder.tsx';
import styles from './Column.module.css';

interface Props {
  cohort: CohortInfo;
  entry: DictionaryEntry;
  onDone: (name: string) => void;
  onClose: () => void;
}

/** What the dictionary says of one column besides how its cells are read. */
export function ColumnDialog({ cohort, entry, onDone, onClose }: Props) {
  const [label, setLabel] = useState(entry.label);
  const [unit, setUnit] = useState(entry.unit);
  const [note, setNote] = useState(entry.note ?? '');
  const [levels, setLevels] = useState(entry.levels ?? []);
  const [least, setLeast] = useState(endText(entry.plausible?.least));
  const [most, setMost] = useState(endText(entry.plausible?.most));
  const [beyond, setBeyond] = useState(entry.plausible?.beyond ?? 'kept');
  const [problem, setProblem] = useState<string>();
  const [saving, setSaving] = useState(false);
  const isNumber = entry.kind === 'number';
  const ends = [readEnd(least), readEnd(most)];
  const fault =
    ends.some(Number.isNaN) || (ends[0] !== null && ends[1] !== null && ends[0] > ends[1])
      ? 'Two numbers, the smaller first; either may be left empty.'
      : undefined;
  const numbers = cohort.summaries[cohort.dictionary.indexOf(entry)]?.numbers;
  const usual = isNumber ? commonRange({ ...entry, label, unit }) : undefined;
  // Where most patients lie beyond them, they are the limits of something else.
  const common =
    usual &&
    (!numbers ||
      (numbers.lowerQuartile >= usual.range[0] && numbers.upperQuartile <= usual.range[1]))
      ? usual
      : undefined;
  const save = async () => {
    setSaving(true);
    const { plausible: _, note: __, ...rest } = entry;
    const next: DictionaryEntry = { ...rest, label: label.trim(), unit: unit.trim() };
    if (isNumber && (ends[0] !== null || ends[1] !== null))
      next.plausible = { least: ends[0], most: ends[1], beyond };
    if (note.trim()) next.note = note.trim();
    if (entry.levels) next.levels = levels;
    try {
      const mine = cohort.dictionary.map((one) => (one === entry ? next : one));
      await putDictionary(cohort.id, cohort.dictionary, mine);
      onDone(entry.name);
    } catch (error) {
      setProblem(messageOf(error));
      setSaving(false);
    }
  };
  return (
    <Dialog title={display(entry)} wide onClose={onClose}>
      <div className={styles.names}>
        <Field label="Label">
          {(ids) => (
            <input
              {...ids}
              value={label}
              placeholder={entry.name}
              maxLength={200}
              onChange={(event) => setLabel(event.target.value)}
            />
          )}
        </Field>
        {isNumber && (
          <Field label="Unit">
            {(ids) => (
              <input
                {...ids}
                value={unit}
                maxLength={40}
                onChange={(event) => setUnit(event.target.value)}
              />
            )}
          </Field>
        )}
      </div>
      {isNumber && (
        <fieldset className={styles.range}>
          <legend>Plausible</legend>
          <label>
            from
            <input
              aria-label="Plausible from"
              inputMode="decimal"
              value={least}
              aria-invalid={fault !== undefined}
              onChange={(event) => setLeast(event.target.value)}
            />
          </label>
          <label>
            to
            <input
              aria-label="Plausible to"
              inputMode="decimal"
              value={most}
              aria-invalid={fault !== undefined}
              onChange={(event) => setMost(event.target.value)}
            />
          </label>
          <label>
            values beyond
            <select
              value={beyond}
              onChange={(event) => setBeyond(event.target.value as typeof beyond)}
            >
              <option value="kept">are kept</option>
              <option value="not known">count as not known</option>
            </select>
          </label>
          {numbers && (
            <span className="quiet">
              here {showValue(numbers.least)} to {showValue(numbers.greatest)}
            </span>
          )}
          {common && (
            <p className="quiet">
              Usual limits of {common.measure} in {unit || 'this unit'} (common practice):{' '}
              {common.range.join(' to ')}.{' '}
              <Button
                look="link"
                onClick={() => {
                  setLeast(String(common.range[0]));
                  setMost(String(common.range[1]));
                }}
              >
                Take them
              </Button>
            </p>
          )}
          {fault && <p role="alert">{fault}</p>}
        </fieldset>
      )}
      {entry.levels && entry.kind !== 'yes/no' && !entry.formula && (
        <section>
          <h2>Order of the levels</h2>
          <p className="quiet">Drag them, or move the one in focus with the arrow keys.</p>
          <LevelOrder levels={levels} onChange={setLevels} />
        </section>
      )}
      <Field label="Note">
        {(ids) => (
          <textarea
            {...ids}
            rows={2}
            maxLength={2000}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        )}
      </Field>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={saving || fault !== undefined} onClick={() => void save()}>
          {saving ? 'Saving' : 'Save'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const endText = (value: number | null | undefined) => (value == null ? '' : String(value));

/** null for none, NaN for what is no number. */
function readEnd(text: string): number | null {
  return text.trim() === '' ? null : readNumber(text);
}
