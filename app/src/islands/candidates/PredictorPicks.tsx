import { useState } from 'react';
import { useDictionary } from '../../browser/dictionary.ts';
import { Button } from '../../components/index.ts';
import styles from './PredictorPicks.module.css';

interface Props {
  studyId: string;
  label: string;
  help?: string;
  /** Names of those that can be picked, in their order. */
  offered: string[];
  value: string[];
  onChange: (value: string[]) => void;
}

/** More than these are found by typing. */
const fewestToFilter = 12;

/** Some of the predictors, ticked. */
export function PredictorPicks({ studyId, label, help, offered, value, onChange }: Props) {
  const { labelOf } = useDictionary(studyId);
  const [typed, setTyped] = useState('');
  const picked = new Set(value);
  const seen = offered.filter((name) => labelOf(name).toLowerCase().includes(typed.toLowerCase()));
  const set = (names: string[], isPicked: boolean) =>
    onChange(offered.filter((name) => (names.includes(name) ? isPicked : picked.has(name))));
  return (
    <fieldset className={styles.picks}>
      <legend>
        {label}: {value.length === 0 ? 'none' : `${value.length} of ${offered.length}`}
      </legend>
      {help && <p className={styles.help}>{help}</p>}
      <div className={styles.acts}>
        {offered.length > fewestToFilter && (
          <input
            type="search"
            aria-label={`${label}: find`}
            placeholder="find"
            value={typed}
            onChange={({ target }) => setTyped(target.value)}
          />
        )}
        <Button look="link" onClick={() => set(seen, true)}>
          {typed ? 'All found' : 'All'}
        </Button>
        <Button look="link" onClick={() => set(seen, false)}>
          {typed ? 'None found' : 'None'}
        </Button>
      </div>
      <div className={styles.list}>
        {seen.map((name) => (
          <label key={name} title={labelOf(name)}>
            <input
              type="checkbox"
              checked={picked.has(name)}
              onChange={({ target }) => set([name], target.checked)}
            />
            <span>{labelOf(name)}</span>
          </label>
        ))}
        {seen.length === 0 && <span className="quiet">None is called so.</span>}
      </div>
    </fieldset>
  );
}
