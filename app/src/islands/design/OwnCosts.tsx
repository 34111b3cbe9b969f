import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { plural, showValue } from '../../browser/format.ts';
import { ColumnSelect } from './ColumnSelect.tsx';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

/** Columns that say what each patient's own errors cost. */
export function OwnCosts({ cohort, design, change }: SectionProps) {
  const { ownCosts } = design;
  const wanted = ({ name, kind, role }: DictionaryEntry) =>
    kind === 'number' && name !== design.outcome && role !== 'identifier';
  if (!cohort.dictionary.some(wanted)) return null;
  const chosen = [...new Set([ownCosts.missed, ownCosts.falseAlarm])].filter(Boolean);
  return (
    <>
      <div className={styles.fields}>
        <ColumnSelect
          label="Each patient’s own: a missed case"
          value={ownCosts.missed}
          cohort={cohort}
          wanted={wanted}
          none="the same for all"
          onChange={(missed) => change({ ownCosts: { ...ownCosts, missed } })}
        />
        <ColumnSelect
          label="a false alarm"
          value={ownCosts.falseAlarm}
          cohort={cohort}
          wanted={wanted}
          none="the same for all"
          onChange={(falseAlarm) => change({ ownCosts: { ...ownCosts, falseAlarm } })}
        />
      </div>
      {chosen.map((name) => (
        <OwnColumn key={name} cohort={cohort} name={name} />
      ))}
    </>
  );
}

/** What a column of costs holds, and what becomes of patients of whom it says nothing. */
function OwnColumn({ cohort, name }: { cohort: CohortInfo; name: string }) {
  const place = cohort.dictionary.findIndex((entry) => entry.name === name);
  if (place < 0) return null;
  const { numbers, missing } = cohort.summaries[place];
  const label = display(cohort.dictionary[place]);
  if (!numbers)
    return (
      <p className={styles.ask}>{label} is not known of anybody: it costs the same for all.</p>
    );
  return (
    <p className="quiet">
      {label} is {showValue(numbers.least)} to {showValue(numbers.greatest)}, median{' '}
      {showValue(numbers.median)}.
      {missing > 0 && ` ${plural(missing, 'patient')} without it cost what all do.`}
      {numbers.least < 0 && ' What is below 0 is no cost, and counts as not known.'}
    </p>
  );
}
