import { useMemo, useState } from 'react';
import { messageOf } from '../../browser/api.ts';
import {
  canPredict,
  understand,
  type Dictionary,
  type DictionaryEntry,
} from '@rook-scale/core/table';
import { plural, showCount, showSize } from '../../browser/format.ts';
import { Button, Notice } from '../../components/index.ts';
import type { UploadReview } from '../../server/uploads.ts';
import { PageBody } from '../frame/index.ts';
import type { MarginNote } from '../margin/index.ts';
import { FirstRows } from './FirstRows.tsx';
import { ReviewTable } from './ReviewTable.tsx';
import styles from './Records.module.css';

interface Props {
  upload: UploadReview;
  dictionary: Dictionary;
  name: string;
  /** The cohort is there already and is read again. */
  mending: boolean;
  onConfirm: (name: string, dictionary: Dictionary) => Promise<void>;
  onLeave: () => void;
}

/** The file as understood, each guess open to correction, before anything is stored. */
export function ReviewView({
  upload,
  dictionary: start,
  name: startName,
  mending,
  onConfirm,
  onLeave,
}: Props) {
  const [dictionary, setDictionary] = useState(start);
  const [name, setName] = useState(startName);
  const [column, setColumn] = useState(0);
  const [state, setState] = useState<'open' | 'storing'>('open');
  const [problem, setProblem] = useState<string>();
  const notes = useMemo(() => reviewNotes(upload, dictionary), [upload, dictionary]);

  const change = (position: number, entry: DictionaryEntry) =>
    setDictionary((before) =>
      before.map((old, i) => (i === position ? settle(entry) : release(old, entry))),
    );
  const confirm = () => {
    setState('storing');
    setProblem(undefined);
    onConfirm(name, dictionary).catch((error: unknown) => {
      setProblem(messageOf(error));
      setState('open');
    });
  };
  const verb = mending ? 'Read it again' : `Bring in ${plural(upload.rowCount, 'patient')}`;
  return (
    <PageBody
      title="Records"
      fact={mending ? 'mending the dictionary' : 'as understood, nothing stored yet'}
      notes={notes}
      actions={
        <>
          {!mending && (
            <label className={styles.name}>
              Name of the cohort
              <input
                value={name}
                maxLength={120}
                onChange={(event) => setName(event.target.value)}
              />
            </label>
          )}
          <Button onClick={onLeave}>Leave it</Button>
          <Button look="main" disabled={state === 'storing'} onClick={confirm}>
            {state === 'storing' ? 'Storing' : verb}
          </Button>
        </>
      }
    >
      {problem && <Notice>{problem}</Notice>}
      <ReviewTable upload={upload} dictionary={dictionary} onChange={change} onFocus={setColumn} />
      <FirstRows upload={upload} dictionary={dictionary} shown={column} />
    </PageBody>
  );
}

/** A kind that no model can use cannot be predictor or outcome; an outcome needs levels. */
function settle(entry: DictionaryEntry): DictionaryEntry {
  if (!canPredict(entry.kind) && (entry.role === 'predictor' || entry.role === 'outcome'))
    return { ...entry, role: 'set aside' };
  return entry;
}

/** One outcome and one identifier at most: marking a second sets the first aside. */
function release(old: DictionaryEntry, changed: DictionaryEntry): DictionaryEntry {
  const single = changed.role === 'outcome' || changed.role === 'identifier';
  return single && old.role === changed.role ? { ...old, role: 'set aside' } : old;
}

function reviewNotes(upload: UploadReview, dictionary: Dictionary): MarginNote[] {
  const notes: MarginNote[] = [
    {
      id: 'file',
      title: upload.fileName,
      text: `${showSize(upload.size)}, ${plural(upload.rowCount, 'row')}, ${plural(upload.columns.length, 'column')}.`,
    },
    ...upload.remarks.map(({ code, title, sentence }) => ({ id: code, title, text: sentence })),
  ];
  if (!dictionary.some((entry) => entry.role === 'outcome'))
    notes.push({
      id: 'no-outcome',
      title: 'No outcome marked yet',
      text: 'Give one column the role outcome here, or choose it later in Design.',
    });
  if (!dictionary.some((entry) => entry.role === 'identifier'))
    notes.push({
      id: 'no-identifier',
      title: 'No identifier',
      text: 'Without one, a patient who stands in the file twice may land on both sides of the split.',
    });
  dictionary.forEach((entry, i) => {
    const column = upload.columns[i];
    const { unreadable, examples } = understand(column.tally, entry);
    if (unreadable > 0)
      notes.push({
        id: `unreadable-${entry.name}`,
        title: `${entry.name}: ${showCount(unreadable)} unreadable`,
        text: `Not ${entry.kind === 'number' || entry.kind === 'date' ? `a ${entry.kind}` : 'yes or no'}: ${examples.join(', ')}. They will be stored as not known, unless another kind fits.`,
      });
    if (/perhaps codes/.test(column.proposal.reason) && entry.kind === 'number')
      notes.push({
        id: `codes-${entry.name}`,
        title: `${entry.name}: codes?`,
        text: column.proposal.reason,
      });
  });
  return notes;
}
