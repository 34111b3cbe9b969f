import { useState } from 'react';
import {
  canPredict,
  defaultLevels,
  isCoded,
  kinds,
  readEnds,
  roles,
  showDay,
  understand,
  type ColumnTally,
  type Dictionary,
  type DictionaryEntry,
  type Kind,
  type Role,
} from '@rook-scale/core/table';
import { showCount, showValue } from '../../browser/format.ts';
import type { UploadReview } from '../../server/uploads.ts';
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
        <tbody>
          {dictionary.map((entry, i) => (
            <Line
              key={entry.name}
              entry={entry}
              tally={tallies.get(entry.name)!}
              onChange={(changed) => onChange(i, changed)}
              onFocus={() => onFocus(i)}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface LineProps {
  entry: DictionaryEntry;
  tally: ColumnTally;
  onChange: (entry: DictionaryEntry) => void;
  onFocus: () => void;
}

function Line({ entry, tally, onChange, onFocus }: LineProps) {
  const set = (part: Partial<DictionaryEntry>) => {
    const changed = { ...entry, ...part };
    if ('kind' in part || 'missingCodes' in part) changed.levels = defaultLevels(tally, changed);
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
        <input
          aria-label={`Unit of ${entry.name}`}
          value={entry.unit}
          maxLength={40}
          disabled={entry.kind !== 'number'}
          onChange={(event) => set({ unit: event.target.value })}
        />
      </td>
      <td className={styles.kind}>
        <select
          aria-label={`Kind of ${entry.name}`}
          value={entry.kind}
          onChange={(event) => set({ kind: event.target.value as Kind })}
        >
          {kinds.map((kind) => (
            <option key={kind}>{kind}</option>
          ))}
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
      <td className={styles.found}>
        <Found entry={entry} tally={tally} />
      </td>
    </tr>
  );
}

function roleFits(role: Role, kind: Kind): boolean {
  if (role === 'predictor') return canPredict(kind);
  return role === 'outcome' ? isCoded(kind) : true;
}

/** Codes as typed, separated by commas; taken over when the field is left. */
function Codes({
  entry,
  onChange,
}: {
  entry: DictionaryEntry;
  onChange: (codes: string[]) => void;
}) {
  const [text, setText] = useState(entry.missingCodes.join(', '));
  const take = () => {
    const codes = [
      ...new Set(
        text
          .split(',')
          .map((code) => code.trim())
          .filter(Boolean),
      ),
    ];
    if (codes.join() !== entry.missingCodes.join()) onChange(codes);
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
