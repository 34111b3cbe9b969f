import { display } from '@rook-scale/core/table';
import { useDictionary } from '../../browser/dictionary.ts';
import { Button } from '../../components/index.ts';
import styles from './Candidates.module.css';

interface Props {
  ids: { id: string };
  studyId: string;
  /** Names of the predictors in force. */
  predictors: string[];
  value: string[];
  onChange: (value: string[]) => void;
}

/** Some of the predictors that are numbers, named one after the other. */
export function NumbersInput({ ids, studyId, predictors, value, onChange }: Props) {
  const { dictionary, labelOf } = useDictionary(studyId);
  const numbers = dictionary.filter(
    ({ name, kind }) => kind === 'number' && predictors.includes(name),
  );
  return (
    <div className={styles.numbers}>
      <select
        {...ids}
        value=""
        disabled={numbers.length === 0}
        onChange={({ target }) => target.value && onChange([...value, target.value])}
      >
        <option value="">
          {numbers.length === 0 ? 'no predictor is a number' : 'add a predictor'}
        </option>
        {numbers
          .filter(({ name }) => !value.includes(name))
          .map((entry) => (
            <option key={entry.name} value={entry.name}>
              {display(entry)}
            </option>
          ))}
      </select>
      {value.map((name) => (
        <span key={name}>
          {labelOf(name)}{' '}
          <Button
            look="link"
            aria-label={`Take ${labelOf(name)} away`}
            onClick={() => onChange(value.filter((one) => one !== name))}
          >
            take away
          </Button>
        </span>
      ))}
    </div>
  );
}
