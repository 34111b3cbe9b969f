import { useState } from 'react';
import { sourcesOf } from '@rook-scale/core/screening';
import type { Design } from '@rook-scale/core/design';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../../contract/cohorts.ts';
import type { UploadReview } from '../../../contract/uploads.ts';
import { plural } from '../../../browser/format.ts';
import { Button, Dialog, DialogActions, Notice, Select } from '../../../components/index.ts';
import { differencesOf, sameNames } from './differences.ts';
import styles from './SecondFileDialog.module.css';

interface Props {
  review: UploadReview;
  cohort: CohortInfo;
  design: Design;
  busy: boolean;
  problem: string | undefined;
  onClose: () => void;
  onTake: (columns: Record<string, string>) => void;
}

/** Which column of the second file is which, and how it differs, before its patients are held out. */
export function SecondFileDialog({
  review,
  cohort,
  design,
  busy,
  problem,
  onClose,
  onTake,
}: Props) {
  const theirs = review.columns.map(({ tally }) => tally.name);
  const own = cohort.dictionary.filter(({ formula }) => !formula);
  const [columns, setColumns] = useState(() => sameNames(own, theirs));
  const used = new Set(Object.values(columns));
  const start = sameNames(own, theirs);
  const open = own.filter(({ name }) => !Object.hasOwn(start, name));
  const asked = open.filter((entry) => isNeeded(entry, cohort, design));
  const spare = theirs.filter((name) => !Object.values(start).includes(name));
  const put = (name: string, their: string) => {
    const { [name]: _, ...rest } = columns;
    setColumns(their ? { ...rest, [name]: their } : rest);
  };
  const differences = differencesOf(review, own, columns);
  const aside = spare.filter((name) => !used.has(name));
  const silent = open.filter((one) => !asked.includes(one));
  return (
    <Dialog title={`Hold out the patients of ${review.fileName}`} wide onClose={onClose}>
      <p>
        {plural(review.rowCount, 'row')}, {plural(theirs.length, 'column')}: {used.size} of the{' '}
        {own.length} columns of {cohort.second ? 'the first file' : cohort.file.name} are there.
      </p>
      {asked.length > 0 && (
        <fieldset className={styles.columns}>
          <legend>Not there under their name</legend>
          {asked.map((entry) => (
            <Select
              key={entry.name}
              label={
                entry.name === design.outcome ? `${display(entry)}, the outcome` : display(entry)
              }
              value={columns[entry.name] ?? ''}
              options={[
                { value: '', label: 'is not in this file' },
                ...spare
                  .filter((name) => columns[entry.name] === name || !used.has(name))
                  .map((name) => ({ value: name, label: `is ${name}` })),
              ]}
              onChange={(their) => put(entry.name, their)}
            />
          ))}
        </fieldset>
      )}
      {(differences.length > 0 || aside.length > 0 || silent.length > 0) && (
        <ul className={styles.differences}>
          {differences.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
          {silent.length > 0 && (
            <li>Not in this file, and not used: {list(silent.map(display))}.</li>
          )}
          {aside.length > 0 && <li>Only in this file, left out: {list(aside)}.</li>}
        </ul>
      )}
      <p className="quiet">
        It is read as the dictionary of the first file says, in the same units. Nobody of it is ever
        learned from; what is not in it is filled as the preparation says.
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={busy} onClick={() => onTake(columns)}>
          {busy ? 'Reading' : 'Hold them out'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** What the design cannot do without, or works with. */
function isNeeded({ name, role }: DictionaryEntry, { dictionary }: CohortInfo, design: Design) {
  const named = [design.outcome, ...design.predictors];
  return role === 'identifier' || [...named, ...sourcesOf(named, dictionary)].includes(name);
}

const list = (names: string[]) =>
  names.length > 8
    ? `${names.slice(0, 8).join(', ')} and ${names.length - 8} more`
    : names.join(', ');
