import { useState } from 'react';
import type { Design } from '@rook-scale/core/design';
import { display } from '@rook-scale/core/table';
import { Button, Dialog, DialogActions, Select } from '../../../components/index.ts';
import type { Offered } from './offered.ts';
import styles from './Predictors.module.css';

interface Props {
  inForce: string[];
  sets: Design['predictorSets'];
  offered: Offered[];
  onClose: () => void;
}

const now = 'in force now';

/** Two sets of predictors side by side. */
export function CompareSets({ inForce, sets, offered, onClose }: Props) {
  const all = [{ name: now, predictors: inForce }, ...sets];
  const [pair, setPair] = useState([all[0].name, all[1].name]);
  const [one, other] = pair.map((name) => all.find((set) => set.name === name)!.predictors);
  const options = all.map(({ name }) => ({ value: name, label: name }));
  const labelOf = (name: string) => {
    const entry = offered.find((found) => found.entry.name === name)?.entry;
    return entry ? display(entry) : name;
  };
  const parts = [
    { title: 'In both', names: one.filter((name) => other.includes(name)) },
    { title: `Only in ${pair[0]}`, names: one.filter((name) => !other.includes(name)) },
    { title: `Only in ${pair[1]}`, names: other.filter((name) => !one.includes(name)) },
  ];
  return (
    <Dialog title="Two sets of predictors" wide onClose={onClose}>
      <div className={styles.acts}>
        <Select
          label="One"
          value={pair[0]}
          options={options}
          onChange={(name) => setPair([name, pair[1]])}
        />
        <Select
          label="the other"
          value={pair[1]}
          options={options}
          onChange={(name) => setPair([pair[0], name])}
        />
      </div>
      <dl className={styles.compared}>
        {parts.map(({ title, names }) => (
          <div key={title}>
            <dt>
              {title} <span className="quiet">{names.length}</span>
            </dt>
            <dd>{names.length > 0 ? names.map(labelOf).join(', ') : 'none'}</dd>
          </div>
        ))}
      </dl>
      <DialogActions>
        <Button data-first onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
