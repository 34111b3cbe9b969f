import { useState } from 'react';
import { type Combination, type UploadReview, uploadRoutes } from '../../contract/uploads.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { uploadFile } from '../../browser/upload.ts';
import { Button, Dialog, DialogActions, FileDrop, Notice, Select } from '../../components/index.ts';
import styles from './CombineDialog.module.css';

interface Props {
  upload: UploadReview;
  onCombined: (upload: UploadReview) => void;
  onClose: () => void;
}

type Several = Extract<Combination, { how: 'join' }>['several'];

/** A second file put below the first or beside it. */
export function CombineDialog({ upload, onCombined, onClose }: Props) {
  const [second, setSecond] = useState<UploadReview>();
  const [how, setHow] = useState<'append' | 'join'>('append');
  const names = (review: UploadReview | undefined) =>
    (review?.columns ?? []).map(({ tally }) => tally.name);
  const [mine, theirs] = [names(upload), names(second)];
  const common = mine.filter((name) => theirs.includes(name));
  const [on, setOn] = useState<string>();
  const [onSecond, setOnSecond] = useState<string>();
  const [several, setSeveral] = useState<Several>('refuse');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string>();
  const left = on ?? identifierOf(upload) ?? common[0] ?? mine[0];
  const right = onSecond ?? (theirs.includes(left) ? left : (theirs[0] ?? ''));
  const combine = async () => {
    if (!second) return;
    setBusy(true);
    setProblem(undefined);
    const both = { first: upload.id, second: second.id };
    const body: Combination =
      how === 'append' ? { how, ...both } : { how, ...both, on: left, onSecond: right, several };
    try {
      onCombined(await ask(uploadRoutes.combine, {}, { body }));
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  const only = (from: string[], other: string[]) => from.filter((name) => !other.includes(name));
  const option = (value: string) => ({ value, label: value });
  return (
    <Dialog title="Add another file" wide onClose={onClose}>
      {!second ? (
        <FileDrop
          verb="Choose the file"
          onFile={async (file, progress, signal) =>
            setSecond(await uploadFile(file, progress, signal))
          }
        >
          <p>
            More patients with the same columns, or more columns for the patients of{' '}
            {upload.fileName}.
          </p>
        </FileDrop>
      ) : (
        <>
          <p>
            {second.fileName}: {plural(second.rowCount, 'row')},{' '}
            {plural(second.columns.length, 'column')}, {common.length} of them as in{' '}
            {upload.fileName}.
          </p>
          <fieldset className={styles.ways}>
            <legend className="hidden">How it is added</legend>
            <label>
              <input
                type="radio"
                name="how"
                checked={how === 'append'}
                onChange={() => setHow('append')}
              />
              Its rows stand below: more patients
            </label>
            <label>
              <input
                type="radio"
                name="how"
                checked={how === 'join'}
                onChange={() => setHow('join')}
              />
              Its columns stand beside: more of the same patients
            </label>
          </fieldset>
          {how === 'append' ? (
            <dl className={styles.report}>
              <Names title={`Only in ${upload.fileName}`} names={only(mine, theirs)} />
              <Names title={`Only in ${second.fileName}`} names={only(theirs, mine)} />
            </dl>
          ) : (
            <div className={styles.join}>
              <Select
                label={`Patient in ${upload.fileName}`}
                value={left}
                options={mine.map(option)}
                onChange={setOn}
              />
              <Select
                label={`in ${second.fileName}`}
                value={right}
                options={theirs.map(option)}
                onChange={setOnSecond}
              />
              <Select
                label="Of a patient with several rows there take"
                value={several}
                options={[
                  { value: 'refuse', label: 'none: there must be one row each' },
                  { value: 'first', label: 'the first known value' },
                  { value: 'last', label: 'the last known value' },
                  { value: 'mean', label: 'the mean of numbers, the first of the rest' },
                ]}
                onChange={setSeveral}
              />
            </div>
          )}
        </>
      )}
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={!second || busy} onClick={() => void combine()}>
          {busy ? 'Putting together' : 'Put together'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function identifierOf(upload: UploadReview): string | undefined {
  return upload.columns.find(({ proposal }) => proposal.entry.role === 'identifier')?.tally.name;
}

function Names({ title, names }: { title: string; names: string[] }) {
  return (
    <div>
      <dt>{title}</dt>
      <dd>{names.length === 0 ? 'nothing' : names.join(', ')}</dd>
    </div>
  );
}
