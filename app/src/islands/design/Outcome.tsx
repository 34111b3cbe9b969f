import { display, isCoded, type DictionaryEntry } from '@rook-scale/core/table';
import { showCount, showPercent } from '../../browser/format.ts';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

/** What is predicted, and in words which level is the event. */
export function Outcome({ cohort, design, change }: SectionProps) {
  const usable = cohort.dictionary.filter(
    (entry) => isCoded(entry.kind) && entry.role !== 'identifier',
  );
  const unusable = cohort.dictionary.filter((entry) => !usable.includes(entry));
  const position = cohort.dictionary.findIndex((entry) => entry.name === design.outcome);
  const outcome = cohort.dictionary[position];
  const counts = cohort.summaries[position]?.counts ?? [];
  const known = counts.reduce((sum, count) => sum + count, 0);
  const choose = (name: string) =>
    change({
      outcome: name,
      event: '',
      predictors: design.predictors.filter((one) => one !== name),
    });
  return (
    <section className={styles.section} aria-labelledby="outcome">
      <h2 id="outcome">Outcome and event</h2>
      <div className={styles.outcome}>
        <label>
          Predict
          <select value={design.outcome} onChange={(event) => choose(event.target.value)}>
            <option value="">choose a column</option>
            {usable.map((entry) => (
              <option key={entry.name} value={entry.name}>
                {display(entry)}
              </option>
            ))}
            {unusable.length > 0 && (
              <optgroup label="Cannot be predicted yet">
                {unusable.map((entry) => (
                  <option key={entry.name} disabled>
                    {display(entry)}: {whyNot(entry)}
                  </option>
                ))}
              </optgroup>
            )}
          </select>
        </label>
        {outcome && (
          <fieldset className={styles.levels}>
            <legend className="hidden">The event: the level to find</legend>
            {(outcome.levels ?? []).map((level, i) => (
              <label key={level} className={level === design.event ? styles.event : undefined}>
                <input
                  type="radio"
                  name="event"
                  checked={level === design.event}
                  onChange={() => change({ event: level })}
                />
                = {level}
                <span className="quiet">
                  {showCount(counts[i] ?? 0)} of {showCount(known)},{' '}
                  {showPercent((counts[i] ?? 0) / Math.max(1, known))}
                </span>
              </label>
            ))}
          </fieldset>
        )}
      </div>
      {outcome && !design.event && (
        <p className={styles.ask}>
          Which level is the event, the one to find? Nothing can be fitted before this is said.
        </p>
      )}
    </section>
  );
}

/** Why a column is not offered as the outcome, and what would make it one. */
function whyNot({ role, kind }: DictionaryEntry): string {
  if (role === 'identifier') return 'says who the patient is';
  return `${kind === 'number' ? 'a number has' : kind === 'date' ? 'a date has' : 'text has'} no levels; make it a category in Records`;
}
