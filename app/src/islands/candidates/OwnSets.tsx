import { Button, Field } from '../../components/index.ts';
import { PredictorPicks } from './PredictorPicks.tsx';
import styles from './Candidates.module.css';

export interface OwnSet {
  name: string;
  predictors: string[];
}

interface Props {
  studyId: string;
  /** Whatever can be a predictor. */
  offered: string[];
  /** Those kept in Design. */
  kept: OwnSet[];
  sets: OwnSet[];
  onChange: (sets: OwnSet[]) => void;
}

/** Sets of predictors to be compared: kept ones, and others that are made here. */
export function OwnSets({ studyId, offered, kept, sets, onChange }: Props) {
  const change = (place: number, part: Partial<OwnSet>) =>
    onChange(sets.map((set, i) => (i === place ? { ...set, ...part } : set)));
  const notYet = kept.filter(({ name }) => !sets.some((set) => set.name === name));
  const free = (stem: string) => {
    for (let k = sets.length + 1; ; k++)
      if (!sets.some(({ name }) => name === `${stem} ${k}`)) return `${stem} ${k}`;
  };
  return (
    <div className={styles.form}>
      {sets.map((set, place) => (
        <div key={place} className={styles.set}>
          <Field label={`Name of set ${place + 1}`}>
            {(ids) => (
              <input
                {...ids}
                maxLength={60}
                value={set.name}
                onChange={({ target }) => change(place, { name: target.value })}
              />
            )}
          </Field>
          <PredictorPicks
            studyId={studyId}
            label={set.name.trim() || `Set ${place + 1}`}
            offered={offered}
            value={set.predictors}
            onChange={(predictors) => change(place, { predictors })}
          />
          <div>
            <Button look="link" onClick={() => onChange(sets.filter((_, i) => i !== place))}>
              Take {set.name.trim() || `set ${place + 1}`} away
            </Button>
          </div>
        </div>
      ))}
      <div className={styles.numbers}>
        <Button
          look="link"
          onClick={() => onChange([...sets, { name: free('Set'), predictors: [] }])}
        >
          Add a set
        </Button>
        {!sets.some(({ predictors }) => predictors.length === offered.length) && (
          <Button
            look="link"
            onClick={() => onChange([...sets, { name: 'All', predictors: offered }])}
          >
            Add all
          </Button>
        )}
        {notYet.map((set) => (
          <Button key={set.name} look="link" onClick={() => onChange([...sets, set])}>
            Add “{set.name}”
          </Button>
        ))}
      </div>
    </div>
  );
}
