import { useState } from 'react';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { putDictionary, toastUndo } from '../../browser/edits.ts';
import { toastError } from '../../browser/toast.ts';
import { Button } from '../../components/index.ts';
import { ColumnDialog } from './column/ColumnDialog.tsx';
import { DictionaryFile } from './dictionary-file/DictionaryFile.tsx';
import { DictionaryTable } from './DictionaryTable.tsx';
import styles from './DictionaryTable.module.css';
import { DeriveDialog } from '../formula/index.ts';
import { TakeOut } from './TakeOut.tsx';

/** The dictionary with what can be done to it. */
export function DictionaryView({
  cohort,
  shown,
  split,
  sealed,
}: {
  cohort: CohortInfo;
  shown?: string;
  split: boolean;
  sealed: boolean;
}) {
  const [editing, setEditing] = useState<DictionaryEntry | 'new'>();
  const close = () => setEditing(undefined);
  const done = (what: string) => {
    close();
    void toastUndo(cohort.studyId, what).catch(toastError);
  };
  const remove = async (entry: DictionaryEntry) => {
    try {
      const mine = cohort.dictionary.filter((one) => one !== entry);
      await putDictionary(cohort.id, cohort.dictionary, mine);
      await toastUndo(cohort.studyId, `${display(entry)} taken away`);
    } catch (error) {
      toastError(error);
    }
  };
  const entry = editing === 'new' ? undefined : editing;
  return (
    <>
      <div className={styles.bar}>
        <Button look="link" onClick={() => setEditing('new')}>
          Derive a column
        </Button>
        <TakeOut cohort={cohort} split={split} sealed={sealed} />
        <DictionaryFile cohort={cohort} onDone={() => done('Dictionary applied')} />
      </div>
      <DictionaryTable
        cohort={cohort}
        shown={shown}
        onEdit={setEditing}
        onRemove={(one) => void remove(one)}
      />
      {(editing === 'new' || entry?.formula !== undefined) && (
        <DeriveDialog
          cohort={cohort}
          entry={entry}
          onDone={(name) => done(entry ? `${display(entry)} changed` : `${name} added`)}
          onClose={close}
        />
      )}
      {entry && entry.formula === undefined && (
        <ColumnDialog
          cohort={cohort}
          entry={entry}
          onDone={() => done(`${display(entry)} changed`)}
          onClose={close}
        />
      )}
    </>
  );
}
