import { useMemo, useRef, useState } from 'react';
import {
  isAboutRows,
  canPredict,
  type Dictionary,
  type DictionaryEntry,
} from '@rook-scale/core/table';
import { type UploadReview, uploadRoutes } from '../../contract/uploads.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { wasEditedElsewhere } from '../../browser/edits.ts';
import { plural } from '../../browser/format.ts';
import { toastError } from '../../browser/toast.ts';
import { Button, Notice } from '../../components/index.ts';
import { PageBody } from '../frame/index.ts';
import { CombineDialog } from './CombineDialog.tsx';
import { FirstRows } from './FirstRows.tsx';
import { reviewNotes } from './notes.ts';
import { ReadingBar } from './ReadingBar.tsx';
import { ReviewTable } from './ReviewTable.tsx';
import { Storing } from './Storing.tsx';
import styles from './ReviewView.module.css';

/** What is stored: `uploadId` is the file, which may have been put together since, `base` is the dictionary the review began with, `insist` wins over another tab. */
export type ConfirmReview = (
  name: string,
  dictionary: Dictionary,
  how: { uploadId: string; base: Dictionary; insist: boolean; signal: AbortSignal },
) => Promise<void>;

interface Props {
  title: string;
  upload: UploadReview;
  dictionary: Dictionary;
  name: string;
  /** The cohort is there already and is read again. */
  mending: boolean;
  onConfirm: ConfirmReview;
  /** Takes what another tab has made of it meanwhile. */
  onReload?: () => Promise<void>;
  /** Gives a file read anew its dictionary; as proposed when left out. */
  understand?: (upload: UploadReview) => Dictionary;
  onLeave: () => void;
}

const asProposed = (upload: UploadReview) => upload.columns.map(({ proposal }) => proposal.entry);

/** The file as understood, each guess open to correction, before anything is stored. */
export function ReviewView(props: Props) {
  const { title, dictionary: start, mending, onConfirm, onLeave, onReload } = props;
  const { understand = asProposed } = props;
  const [upload, setUpload] = useState(props.upload);
  const [dictionary, setDictionary] = useState(start);
  const [name, setName] = useState(props.name);
  const [column, setColumn] = useState(0);
  const [storing, setStoring] = useState(false);
  const [combining, setCombining] = useState(false);
  const stop = useRef<AbortController>(null);
  const [problem, setProblem] = useState<{ sentence: string; elsewhere: boolean }>();

  const readAnew = (fresh: UploadReview) => {
    setUpload(fresh);
    // Columns that are still there keep what was said of them.
    const said = new Map(dictionary.map((entry) => [entry.name, entry]));
    setDictionary(understand(fresh).map((entry) => said.get(entry.name) ?? entry));
  };
  const leaveOutLast = () => {
    const { reading } = upload;
    const wanted = { ...reading, leaveOutLast: reading.leaveOutLast + 1 };
    ask(uploadRoutes.readAnew, { upload: upload.id }, { body: wanted }).then(readAnew, toastError);
  };
  const notes = useMemo(
    () => reviewNotes(upload, dictionary, mending ? undefined : { leaveOutLast }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the act follows upload and dictionary
    [upload, dictionary, mending],
  );
  const change = (position: number, entry: DictionaryEntry) =>
    setDictionary((before) =>
      before.map((old, i) => (i === position ? settle(entry) : release(old, entry))),
    );
  const confirm = (insist = false) => {
    stop.current = new AbortController();
    setStoring(true);
    setProblem(undefined);
    const { signal } = stop.current;
    const uploadId = upload.id;
    onConfirm(name, dictionary, { uploadId, base: start, insist, signal }).catch(
      (error: unknown) => {
        setProblem({ sentence: messageOf(error), elsewhere: wasEditedElsewhere(error) });
        setStoring(false);
      },
    );
  };
  const verb = mending ? 'Read it again' : `Bring in ${plural(upload.rowCount, 'patient')}`;
  return (
    <PageBody
      title={title}
      fact={mending ? 'mending the dictionary' : 'as understood, nothing stored yet'}
      notes={notes}
      actions={
        <>
          {!mending && (
            <label className={styles.name}>
              Name
              <input
                aria-label="Name of the cohort"
                value={name}
                maxLength={120}
                onChange={(event) => setName(event.target.value)}
              />
            </label>
          )}
          {!mending && <Button onClick={() => setCombining(true)}>Add another file</Button>}
          <Button onClick={onLeave}>Cancel</Button>
          <Button look="main" disabled={storing} onClick={() => confirm()}>
            {storing ? 'Storing' : verb}
          </Button>
        </>
      }
    >
      {problem && (
        <Notice>
          {problem.sentence}{' '}
          {problem.elsewhere && (
            <>
              <Button look="link" onClick={() => confirm(true)}>
                Keep mine
              </Button>{' '}
              <Button look="link" onClick={() => void onReload?.().catch(toastError)}>
                Take the other
              </Button>
            </>
          )}
        </Notice>
      )}
      {storing && (
        <Storing
          uploadId={upload.id}
          onCancel={mending ? undefined : () => stop.current?.abort()}
        />
      )}
      {!mending && (
        <ReadingBar
          upload={upload}
          dictionary={dictionary}
          onRead={readAnew}
          onDictionary={setDictionary}
        />
      )}
      <ReviewTable upload={upload} dictionary={dictionary} onChange={change} onFocus={setColumn} />
      <FirstRows upload={upload} dictionary={dictionary} shown={column} />
      {combining && (
        <CombineDialog
          upload={upload}
          onCombined={(fresh) => {
            setCombining(false);
            readAnew(fresh);
          }}
          onClose={() => setCombining(false)}
        />
      )}
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
  const single = changed.role === 'outcome' || isAboutRows(changed);
  return single && old.role === changed.role ? { ...old, role: 'set aside' } : old;
}
