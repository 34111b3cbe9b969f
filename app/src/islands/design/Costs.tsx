import { calibratedCutoff } from '@rook-scale/core/measures';
import { NumberField } from './NumberField.tsx';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

/** What each kind of error costs, in a unit of the study's own. */
export function Costs({ design, change }: SectionProps) {
  const { missedCost, falseAlarmCost } = design;
  const ratio = missedCost / falseAlarmCost;
  return (
    <section className={styles.section} id="costs" aria-labelledby="costs-head">
      <h2 id="costs-head">What errors cost</h2>
      <div className={styles.fields}>
        <NumberField
          label="A missed case"
          value={missedCost}
          least={0.001}
          most={1e9}
          onChange={(cost) => change({ missedCost: cost })}
        />
        <NumberField
          label="A false alarm"
          value={falseAlarmCost}
          least={0.001}
          most={1e9}
          onChange={(cost) => change({ falseAlarmCost: cost })}
        />
      </div>
      <p className="quiet">
        In a unit of your own: only the ratio moves the cutoff.{' '}
        {ratio === 1
          ? 'Both errors cost the same.'
          : ratio > 1
            ? `To find one more case, up to ${Number(ratio.toPrecision(3))} false alarms are worth it.`
            : `A false alarm weighs more than a missed case, which is rare in screening: is it the right way round?`}{' '}
        {design.kind !== 'number' &&
          `A well-calibrated model would call in from a ${design.kind === 'event' ? 'risk' : 'share of cases'} of ${calibratedCutoff(design).toFixed(3)}.`}
      </p>
    </section>
  );
}
