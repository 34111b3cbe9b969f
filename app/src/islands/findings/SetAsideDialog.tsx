import { useState } from 'react';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { mendDictionary } from '../../browser/edits.ts';
import { plural } from '../../browser/format.ts';
import { Button, Dialog, DialogActions } from '../../components/index.ts';
import styles from './Findings.module.css';

/** A column that can be set aside, with what speaks for it. */
export interface AsideChoice {
  name: string;
  label: string;
  evidence: string;
  /** Clear enough to be chosen at first. */
  isClear: boolean;
}

/** Which of several columns are set aside, each with its evidence: none goes unseen. */
export function SetAsideDialog({
  title,
  about,
  cohort,
  choices,
  onClose,
}: {
  title: string;
  about: string;
  cohort: CohortInfo;
  choices: AsideChoice[];
  onClose: () => void;
}) {
  const [chosen, setChosen] = useState(
    () => new Set(choices.filter(({ isClear }) => isClear).map(({ name }) => name)),
  );
  const toggle = (name: string) => {
    const next = new Set(chosen);
    if (!next.delete(name)) next.add(name);
    setChosen(next);
  };
  const setAside = () => {
    onClose();
    void mendDictionary(
      cohort,
      (dictionary) =>
        dictionary.map((entry) =>
          chosen.has(entry.name) && entry.role === 'predictor'
            ? { ...entry, role: 'set aside' }
            : entry,
        ),
      `${plural(chosen.size, 'column is', 'columns are')} set aside.`,
    );
  };
  return (
    <Dialog title={title} onClose={onClose}>
      <p className="quiet">{about}</p>
      <div className={styles.choices} role="group" aria-label="Columns to set aside">
        {choices.map(({ name, label, evidence }) => (
          <label key={name}>
            <input type="checkbox" checked={chosen.has(name)} onChange={() => toggle(name)} />
            <span>
              {label}
              <br />
              <span className="quiet">{evidence}</span>
            </span>
          </label>
        ))}
      </div>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={chosen.size === 0} onClick={setAside}>
          Set aside {plural(chosen.size, 'column')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
