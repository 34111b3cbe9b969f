import { useState } from 'react';
import {
  defaultLevels,
  levelsAfterChange,
  type ColumnTally,
  type DictionaryEntry,
} from '@rook-scale/core/table';
import { showCount } from '../../browser/format.ts';
import { Button, Dialog, DialogActions } from '../../components/index.ts';
import styles from './LevelsDialog.module.css';

interface Props {
  entry: DictionaryEntry;
  tally: ColumnTally;
  onChange: (entry: DictionaryEntry) => void;
  onClose: () => void;
}

/** Which level each cell stands for: codes get names, and two spellings become one by the same name. */
export function LevelsDialog({ entry, tally, onChange, onClose }: Props) {
  const [names, setNames] = useState<Record<string, string>>(entry.spellings ?? {});
  const [missing, setMissing] = useState(new Set(entry.missingCodes));
  const [ordered, setOrdered] = useState(entry.kind === 'ordered category');
  const cells = inOrder(tally, entry);
  const yesNo = entry.kind === 'yes/no';
  const take = () => {
    const spellings = Object.fromEntries(
      Object.entries(names)
        .map(([cell, name]) => [cell, name.trim()] as const)
        .filter(([cell, name]) => name !== '' && name !== cell && !missing.has(cell)),
    );
    const { spellings: _, levels: __, ...rest } = entry;
    const next: DictionaryEntry = {
      ...rest,
      ...(!yesNo && { kind: ordered ? 'ordered category' : 'category' }),
      missingCodes: [...missing],
    };
    if (Object.keys(spellings).length > 0) next.spellings = spellings;
    const levels = levelsAfterChange(tally, next, entry.levels);
    onChange(levels ? { ...next, levels } : next);
    onClose();
  };
  return (
    <Dialog title={`Levels of ${entry.name}`} wide onClose={onClose}>
      <p className="quiet">
        {yesNo
          ? 'What each cell means. Leave the name empty where the cell says yes or no itself.'
          : 'Give codes their names. Cells with the same name become one level.'}
      </p>
      <div className={styles.scroller} tabIndex={0} role="region" aria-label="Cells and levels">
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">In the file</th>
              <th scope="col" className={styles.right}>
                Patients
              </th>
              <th scope="col">Stands for</th>
              <th scope="col">Not known</th>
            </tr>
          </thead>
          <tbody>
            {cells.map(([cell, count]) => (
              <tr key={cell}>
                <th scope="row">{cell}</th>
                <td className={styles.number}>{showCount(count)}</td>
                <td>
                  {yesNo ? (
                    <select
                      aria-label={`${cell} stands for`}
                      disabled={missing.has(cell)}
                      value={names[cell] ?? ''}
                      onChange={(event) => setNames({ ...names, [cell]: event.target.value })}
                    >
                      <option value="">as it says</option>
                      <option>yes</option>
                      <option>no</option>
                    </select>
                  ) : (
                    <input
                      aria-label={`${cell} stands for`}
                      disabled={missing.has(cell)}
                      placeholder={cell}
                      maxLength={200}
                      value={names[cell] ?? ''}
                      onChange={(event) => setNames({ ...names, [cell]: event.target.value })}
                    />
                  )}
                </td>
                <td className={styles.check}>
                  <input
                    type="checkbox"
                    aria-label={`${cell} means not known`}
                    checked={missing.has(cell)}
                    onChange={(event) => {
                      const next = new Set(missing);
                      if (event.target.checked) next.add(cell);
                      else next.delete(cell);
                      setMissing(next);
                    }}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {tally.manyDistinct && (
        <p className="quiet">Only the first {tally.distinct.length} different cells are shown.</p>
      )}
      {!yesNo && (
        <label>
          <input
            type="checkbox"
            checked={ordered}
            onChange={(event) => setOrdered(event.target.checked)}
          />{' '}
          The levels are ordered, as listed
        </label>
      )}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" onClick={take}>
          Take these levels
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Numbers by value, words by the alphabet, as the levels will stand. */
function inOrder(tally: ColumnTally, entry: DictionaryEntry): [string, number][] {
  const plain = { kind: 'category' as const, missingCodes: [], format: entry.format };
  const order = new Map((defaultLevels(tally, plain) ?? []).map((cell, i) => [cell, i]));
  return [...tally.distinct].sort(([a], [b]) => (order.get(a) ?? 0) - (order.get(b) ?? 0));
}
