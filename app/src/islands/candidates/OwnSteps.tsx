import { stepOf, type ArrangedStep } from '@rook-scale/core/preparation';
import { useDictionary } from '../../browser/dictionary.ts';
import { stepText } from '../design/index.ts';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  /** Steps that can be picked, in their order. */
  offered: ArrangedStep[];
  value: ArrangedStep[];
  onChange: (value: ArrangedStep[]) => void;
}

/** Some of the steps of the preparation, ticked. */
export function OwnSteps({ studyId, offered, value, onChange }: Props) {
  const { labelOf } = useDictionary(studyId);
  const picked = new Set(value.map(keyOf));
  return (
    <fieldset className={styles.families}>
      <legend>
        Steps of its own: {value.length === 0 ? 'none' : `${value.length} of ${offered.length}`}
      </legend>
      {offered.map((step) => (
        <label key={keyOf(step)}>
          <input
            type="checkbox"
            checked={picked.has(keyOf(step))}
            onChange={({ target }) =>
              onChange(
                offered.filter((one) =>
                  keyOf(one) === keyOf(step) ? target.checked : picked.has(keyOf(one)),
                ),
              )
            }
          />
          <span>
            {stepOf(step.step).name} <span className="quiet">{stepText(step, labelOf)}</span>
          </span>
        </label>
      ))}
    </fieldset>
  );
}

/** All steps of several arrangements, each once. */
export const stepsTogether = (arrangements: ArrangedStep[][]): ArrangedStep[] => [
  ...new Map(arrangements.flat().map((step) => [keyOf(step), step])).values(),
];

const keyOf = (step: ArrangedStep): string => JSON.stringify(step);
