import Papa from 'papaparse';
import { useRef, useState } from 'react';
import {
  applyDictionaryRows,
  dictionaryRows,
  withoutApostrophe,
  type DictionaryApplied,
} from '@rook-scale/core/table';
import type { CohortInfo } from '../../../contract/cohorts.ts';
import { messageOf } from '../../../browser/api.ts';
import { putDictionary } from '../../../browser/edits.ts';
import { plural } from '../../../browser/format.ts';
import { toastError } from '../../../browser/toast.ts';
import { Button, Dialog, DialogActions, Notice, saveRows } from '../../../components/index.ts';
import styles from './DictionaryFile.module.css';

interface Props {
  cohort: CohortInfo;
  onDone: () => void;
}

/** The dictionary as a file, out and in: the next extract gets it in one step. */
export function DictionaryFile({ cohort, onDone }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  const [applied, setApplied] = useState<DictionaryApplied & { fileName: string }>();
  const take = async (file: File) => {
    try {
      const text = (await file.text()).replace(/^\uFEFF/, '');
      const { data } = Papa.parse<string[]>(text, { skipEmptyLines: true });
      const plain = data.map((cells) => cells.map(withoutApostrophe));
      const result = applyDictionaryRows(plain, cohort.dictionary);
      if (!result)
        throw new Error(
          `${file.name} is not a dictionary: it has no column “name”. Nothing was changed.`,
        );
      setApplied({ ...result, fileName: file.name });
    } catch (error) {
      toastError(error);
    }
  };
  const download = () =>
    void saveRows(dictionaryRows(cohort.dictionary), `${cohort.name}, dictionary.csv`);
  return (
    <>
      <Button look="link" onClick={download}>
        Save the dictionary as CSV
      </Button>
      <Button look="link" onClick={() => picker.current?.click()}>
        Apply a dictionary from CSV
      </Button>
      <input
        ref={picker}
        type="file"
        hidden
        accept=".csv,text/csv"
        aria-label="Dictionary file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void take(file);
        }}
      />
      {applied && (
        <ApplyDialog
          cohort={cohort}
          applied={applied}
          onDone={() => {
            setApplied(undefined);
            onDone();
          }}
          onClose={() => setApplied(undefined)}
        />
      )}
    </>
  );
}

interface ApplyProps {
  cohort: CohortInfo;
  applied: DictionaryApplied & { fileName: string };
  onDone: () => void;
  onClose: () => void;
}

function ApplyDialog({ cohort, applied, onDone, onClose }: ApplyProps) {
  const [saving, setSaving] = useState(false);
  const [problem, setProblem] = useState<string>();
  const { changed, added, unmatched, unnamed, faults, dictionary } = applied;
  const nothing = changed.length === 0 && added.length === 0;
  const apply = () => {
    setSaving(true);
    putDictionary(cohort.id, cohort.dictionary, dictionary).then(onDone, (error: unknown) => {
      setProblem(messageOf(error));
      setSaving(false);
    });
  };
  return (
    <Dialog title={`Apply ${applied.fileName}`} onClose={onClose}>
      <p>
        {nothing
          ? 'It says nothing of these columns that is not so already.'
          : `${plural(changed.length, 'column')} ${changed.length === 1 ? 'changes' : 'change'}${added.length > 0 ? `, ${plural(added.length, 'derived column')} ${added.length === 1 ? 'is' : 'are'} added` : ''}.`}
      </p>
      <dl className={styles.report}>
        <Names title="Change" names={changed} />
        <Names title="Added, derived" names={added} />
        <Names title="In the file only" names={unmatched} />
        <Names title="In the cohort only, as before" names={unnamed} />
      </dl>
      {faults.length > 0 && (
        <Notice kind="plain">
          <ul>
            {faults.slice(0, 8).map((fault) => (
              <li key={fault}>{fault}</li>
            ))}
            {faults.length > 8 && <li>and {faults.length - 8} more</li>}
          </ul>
        </Notice>
      )}
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={nothing || saving} onClick={apply}>
          {saving ? 'Applying' : 'Apply it'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Names({ title, names }: { title: string; names: string[] }) {
  if (names.length === 0) return null;
  return (
    <div>
      <dt>
        {title} ({names.length})
      </dt>
      <dd>
        {names.slice(0, 12).join(', ')}
        {names.length > 12 && ` and ${names.length - 12} more`}
      </dd>
    </div>
  );
}
