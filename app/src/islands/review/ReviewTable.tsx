import { Pencil } from 'lucide-react';
import type { UploadReview } from '../../contract/uploads.ts';
import { moveBetweenRows } from '../../browser/row-keys.ts';
import { useState } from 'react';
import {
  canPredict,
  levelsAfterChange,
  isCoded,
  kinds,
  readEnds,
  roles,
  showDay,
  understand,
  type CellFormat,
  type ColumnTally,
  type Dictionary,
  type DictionaryEntry,
  type Kind,
  type Role,
} from '@rook-scale/core/table';
import { showCount, showValue } from '../../browser/format.ts';
import { LevelsDialog } from './LevelsDialog.tsx';
import styles from './ReviewTable.module.css';

interface Props {
  upload: UploadReview;
  dictionary: Dictionary;
  onChange: (position: number, entry: DictionaryEntry) => void;
  onFocus: (position: number) => void;
}

/** One line a column, every guess a control. */
export function ReviewTable({ upload, dictionary, onChange, onFocus }: Props) {
  const tallies = new Map(upload.columns.map(({ tally }) => [tally.name, tally]));
  const [naming, setNaming] = useState<number>();
  return (
    <div className={styles.scroller} tabIndex={-1}>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Column</th>
            <th scope="col">Label</th>
            <th scope="col">Unit</th>
            <th scope="col">Kind</th>
            <th scope="col">Role</th>
            <th scope="col">Not known as</th>
            <th scope="col">Found</th>
          </tr>
        </thead>
        <tbody
          onKeyDown={(event) => {
            // Enter goes down a column of fields, with Shift up again.
            if (event.key === 'Enter' && !(event.target instanceof HTMLButtonElement))
              moveBetweenRows(event, event.shiftKey ? -1 : 1);
          }}
        >
          {dictionary.map((entry, i) => {
            // A derived column has no cells in the file to be read.
            const tally = tallies.get(entry.name);
            return (
              tally && (
                <Line
                  key={entry.name}
                  entry={entry}
                  tally={tally}
                  onChange={(changed) => onChange(i, changed)}
                  onFocus={() => onFocus(i)}
                  onName={() => setNaming(i)}
                />
              )
            );
          })}
        </tbody>
      </table>
      {naming !== undefined && (
        <LevelsDialog
          entry={dictionary[naming]}
          tally={tallies.get(dictionary[naming].name)!}
          onChange={(entry) => onChange(naming, entry)}
          onClose={() => setNaming(undefined)}
        />
      )}
    </div>
  );
}

interface LineProps {
  entry: DictionaryEntry;
  tally: ColumnTally;
  onChange: (entry: DictionaryEntry) => void;
  onFocus: () => void;
  /** Opens the names of its levels. */
  onName: () => void;
}

function Line({ entry, tally, onChange, onFocus, onName }: LineProps) {
  const set = (part: Partial<DictionaryEntry>) => {
    const changed = { ...entry, ...part };
    // Whatever says who the patient is stays as it stands in the file.
    if (part.role === 'identifier') changed.kind = 'text';
    if ('kind' in part && !('format' in part)) changed.format = formatFor(changed.kind, tally);
    if ('kind' in part || 'missingCodes' in part)
      changed.levels = levelsAfterChange(tally, changed, entry.levels);
    onChange(changed);
  };
  return (
    <tr onFocus={onFocus}>
      <th scope="row" title={entry.name}>
        {entry.name}
      </th>
      <td>
        <input
          aria-label={`Label of ${entry.name}`}
          value={entry.label}
          maxLength={200}
          onChange={(event) => set({ label: event.target.value })}
        />
      </td>
      <td className={styles.unit}>
        {entry.kind === 'date' ? (
          <DateOrder entry={entry} onChange={(format) => set({ format })} />
        ) : (
          <input
            aria-label={`Unit of ${entry.name}`}
            value={entry.unit}
            maxLength={40}
            disabled={entry.kind !== 'number'}
            onChange={(event) => set({ unit: event.target.value })}
          />
        )}
      </td>
      <td className={styles.kind}>
        <select
          aria-label={`Kind of ${entry.name}`}
          value={entry.format === 'decimal comma' ? withComma : entry.kind}
          onChange={(event) =>
            set(
              event.target.value === withComma
                ? { kind: 'number', format: 'decimal comma' }
                : event.target.value === 'number' && tally.withComma > 0
                  ? { kind: 'number', format: undefined }
                  : { kind: event.target.value as Kind },
            )
          }
        >
          {kinds.map((kind) => (
            <option key={kind} value={kind}>
              {kind === 'number' && tally.withComma > 0 ? 'number, decimal point' : kind}
            </option>
          ))}
          {tally.withComma > 0 && <option value={withComma}>{withComma}</option>}
        </select>
      </td>
      <td className={styles.role}>
        <select
          aria-label={`Role of ${entry.name}`}
          value={entry.role}
          onChange={(event) => set({ role: event.target.value as Role })}
        >
          {roles.map((role) => (
            <option key={role} disabled={!roleFits(role, entry.kind)}>
              {role}
            </option>
          ))}
        </select>
      </td>
      <td className={styles.codes}>
        <Codes entry={entry} onChange={(missingCodes) => set({ missingCodes })} />
      </td>
      <td>
        <div className={styles.foundLine}>
          <div className={styles.found}>
            <Found entry={entry} tally={tally} />
          </div>
          {isCoded(entry.kind) && (
            <button
              type="button"
              className={styles.edit}
              aria-label={`Levels of ${entry.name}`}
              title="Name and merge levels"
              onClick={onName}
            >
              <Pencil size={13} aria-hidden="true" />
            </button>
          )}
        </div>
      </td>
    </tr>
  );
}

const withComma = 'number, decimal comma';

/** How a kind just chosen is spelled in this column. */
function formatFor(kind: Kind, tally: ColumnTally): CellFormat | undefined {
  if (kind === 'number' && tally.commas.cells > tally.points.cells) return 'decimal comma';
  if (kind !== 'date' || tally.days.cells > 0) return undefined;
  if (tally.dayFirst.cells === 0 && tally.monthFirst.cells === 0) return undefined;
  return tally.monthFirst.cells > tally.dayFirst.cells ? 'month first' : 'day first';
}

function DateOrder({
  entry,
  onChange,
}: {
  entry: DictionaryEntry;
  onChange: (format: CellFormat | undefined) => void;
}) {
  return (
    <select
      aria-label={`Order in the dates of ${entry.name}`}
      title="Which part of a date comes first"
      value={entry.format ?? 'year first'}
      onChange={(event) => {
        const order = event.target.value;
        onChange(order === 'day first' || order === 'month first' ? order : undefined);
      }}
    >
      <option value="year first">y-m-d</option>
      <option value="day first">d/m/y</option>
      <option value="month first">m/d/y</option>
    </select>
  );
}

function roleFits(role: Role, kind: Kind): boolean {
  if (role === 'number of patients') return kind === 'number';
  return role === 'predictor' || role === 'outcome' ? canPredict(kind) : true;
}

/** Codes as typed, separated by commas; taken over when the field is left. */
function Codes({
  entry,
  onChange,
}: {
  entry: DictionaryEntry;
  onChange: (codes: string[]) => void;
}) {
  const shown = entry.missingCodes.join(', ');
  // What is being typed belongs to the codes it started from; other codes from outside win.
  const [typed, setTyped] = useState({ from: shown, text: shown });
  const text = typed.from === shown ? typed.text : shown;
  const setText = (next: string) => setTyped({ from: shown, text: next });
  const take = () => {
    const codes = [
      ...new Set(
        text
          .split(',')
          .map((code) => code.trim())
          .filter(Boolean),
      ),
    ];
    if (codes.join() === entry.missingCodes.join()) return;
    setTyped({ from: codes.join(', '), text: codes.join(', ') });
    onChange(codes);
  };
  return (
    <input
      aria-label={`Codes of ${entry.name} that mean not known, separated by commas`}
      placeholder="empty"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}

function Found({ entry, tally }: { entry: DictionaryEntry; tally: ColumnTally }) {
  const { missing, unreadable } = understand(tally, entry);
  return (
    <span
      title={tally.distinct
        .slice(0, 12)
        .map(([value, count]) => `${value} (${count})`)
        .join(', ')}
    >
      {what(entry, tally)}
      {missing > 0 && <span className="quiet"> · {showCount(missing)} not known</span>}
      {unreadable > 0 && (
        <span className={styles.unreadable}> · {showCount(unreadable)} unreadable</span>
      )}
    </span>
  );
}

function what(entry: DictionaryEntry, tally: ColumnTally): string {
  const ends = readEnds(tally, entry);
  if (entry.kind === 'number' && ends) return `${showValue(ends[0])} to ${showValue(ends[1])}`;
  if (entry.kind === 'date' && ends) return `${showDay(ends[0])} to ${showDay(ends[1])}`;
  if (isCoded(entry.kind)) {
    const levels = entry.levels ?? [];
    const shown = levels.slice(0, 4).join(', ');
    return levels.length > 4 ? `${shown} … (${levels.length} levels)` : shown;
  }
  const first = tally.distinct[0]?.[0] ?? '';
  return first ? `such as ${first}` : 'nothing';
}
