import { useState } from 'react';
import type { Dictionary } from '@rook-scale/core/table';
import { type Reading, type UploadReview, uploadRoutes } from '../../contract/uploads.ts';
import { ask } from '../../browser/api.ts';
import { toastError } from '../../browser/toast.ts';
import styles from './ReadingBar.module.css';

const delimiterNames: Record<Reading['delimiter'], string> = {
  ',': 'commas',
  ';': 'semicolons',
  '\t': 'tabs',
  '|': 'bars',
};
const encodingNames: Record<Reading['encoding'], string> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16',
  'utf-16be': 'UTF-16, big-endian',
  'windows-1252': 'Latin-1',
};

interface Props {
  upload: UploadReview;
  dictionary: Dictionary;
  /** The file was read in another way: columns may have changed. */
  onRead: (upload: UploadReview) => void;
  onDictionary: (dictionary: Dictionary) => void;
}

/** How the bytes of the file are taken as a table; a wrong guess is put right without a new upload. */
export function ReadingBar({ upload, dictionary, onRead, onDictionary }: Props) {
  const [busy, setBusy] = useState(false);
  const { reading } = upload;
  const read = (part: Partial<Reading>) => {
    setBusy(true);
    ask(uploadRoutes.readAnew, { upload: upload.id }, { body: { ...reading, ...part } })
      .then(onRead, toastError)
      .finally(() => setBusy(false));
  };
  const tallies = new Map(upload.columns.map(({ tally }) => [tally.name, tally]));
  // Whole numbers are the same under both marks and have no say.
  const numbers = dictionary.filter((entry) => {
    const tally = tallies.get(entry.name);
    return entry.kind === 'number' && tally && tally.points.cells !== tally.commas.cells;
  });
  const commas = numbers.filter((entry) => entry.format === 'decimal comma').length;
  const mark = commas === 0 ? 'point' : commas === numbers.length ? 'comma' : 'mixed';
  const setMark = (wanted: string) =>
    onDictionary(
      dictionary.map((entry) => {
        if (entry.kind !== 'number') return entry;
        const { format: _, ...rest } = entry;
        return wanted === 'comma' ? { ...rest, format: 'decimal comma' as const } : rest;
      }),
    );
  return (
    <fieldset className={styles.bar} disabled={busy} aria-busy={busy}>
      <legend className="hidden">How the file is read</legend>
      {reading.format === undefined ? (
        <>
          <label>
            Cells parted by
            <select
              value={reading.delimiter}
              onChange={(event) => read({ delimiter: event.target.value as Reading['delimiter'] })}
            >
              {Object.entries(delimiterNames).map(([value, name]) => (
                <option key={value} value={value}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <label>
            letters in
            <select
              value={reading.encoding}
              onChange={(event) => read({ encoding: event.target.value as Reading['encoding'] })}
            >
              {Object.entries(encodingNames).map(([value, name]) => (
                <option key={value} value={value}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        </>
      ) : (
        <span>{reading.format}</span>
      )}
      {reading.format === 'workbook' && (
        <>
          <label>
            sheet
            <select
              value={reading.sheet}
              onChange={(event) => read({ sheet: event.target.value, headerRow: undefined })}
            >
              {reading.sheets?.map((sheet) => (
                <option key={sheet}>{sheet}</option>
              ))}
            </select>
          </label>
          <label>
            names in row
            <select
              value={reading.headerRow}
              onChange={(event) => read({ headerRow: Number(event.target.value) })}
            >
              {Array.from({ length: Math.max(20, reading.headerRow ?? 1) }, (_, i) => (
                <option key={i} value={i + 1}>
                  {i + 1}
                </option>
              ))}
            </select>
          </label>
        </>
      )}
      <label>
        decimal
        <select value={mark} onChange={(event) => setMark(event.target.value)}>
          <option value="point">point</option>
          <option value="comma">comma</option>
          {mark === 'mixed' && (
            <option value="mixed" disabled>
              by column
            </option>
          )}
        </select>
      </label>
      <label>
        last rows left out
        <select
          value={reading.leaveOutLast}
          onChange={(event) => read({ leaveOutLast: Number(event.target.value) })}
        >
          {[0, 1, 2, 3, 4, 5].map((count) => (
            <option key={count} value={count}>
              {count === 0 ? 'none' : count}
            </option>
          ))}
        </select>
      </label>
      {busy && <span role="status">Reading the file again</span>}
    </fieldset>
  );
}
