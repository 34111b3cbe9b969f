import { balancingWays, type Balancing, type BalancingWay } from '@rook-scale/core/balancing';
import { showCount, showPercent } from '../../browser/format.ts';
import { roundTo, showFixed } from '../../browser/numbers.ts';
import { NumberField, Select } from '../../components/index.ts';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

/** Whether learning patients are balanced, how, and what that does to their numbers. */
export function BalancingForm({ design, state, change }: SectionProps) {
  if (design.kind !== 'event') return null;
  const { balancing } = design;
  const set = (next: Balancing) => change({ balancing: next });
  const share = balancing.way === 'none' ? 0.5 : balancing.share;
  const choose = (way: BalancingWay) =>
    set(
      way === 'none'
        ? { way }
        : way === 'cases in between'
          ? { way, share, neighbours: 5 }
          : { way, share },
    );
  return (
    <section className={styles.section} aria-labelledby="balancing">
      <h2 id="balancing">Balance of cases</h2>
      <div className={styles.fields}>
        <Select
          label="Balanced by"
          value={balancing.way}
          options={(Object.keys(balancingWays) as BalancingWay[]).map((value) => ({
            value,
            label: balancingWays[value].name,
          }))}
          onChange={choose}
        />
        {balancing.way !== 'none' && (
          <NumberField
            label="Cases are to be"
            value={roundTo(100 * balancing.share, 2)}
            least={1}
            most={90}
            suffix="%"
            onChange={(percent) => set({ ...balancing, share: percent / 100 })}
          />
        )}
        {balancing.way === 'cases in between' && (
          <NumberField
            label="Nearest cases"
            value={balancing.neighbours}
            least={1}
            most={50}
            whole
            onChange={(neighbours) => set({ ...balancing, neighbours })}
          />
        )}
      </div>
      <p className="quiet">
        {balancingWays[balancing.way].about}{' '}
        {balancing.way === 'none'
          ? 'Costs move the cutoff, so few cases are no reason to balance.'
          : 'Inside the learning patients of each fold only; risks are then brought back to the true share of cases, and who is predicted stays as they came.'}
      </p>
      {state.counts && <p>{learnedFrom(balancing, state.counts.development)}</p>}
    </section>
  );
}

/** Of how many a model of all development patients learns. */
function learnedFrom(
  balancing: Balancing,
  { patients, events }: { patients: number; events: number },
): string {
  const others = patients - events;
  const now = `${showCount(events)} cases and ${showCount(others)} others`;
  if (balancing.way === 'none') return `Learned from ${now}.`;
  const { way, share } = balancing;
  if (way === 'weights') {
    const [one, other] = [(share * patients) / events, ((1 - share) * patients) / others];
    return `Learned from ${now}; a case counts ${showFixed(one, 2)} times, one of the others ${showFixed(other, 2)} times.`;
  }
  if (events / patients >= share)
    return `Learned from ${now}: cases are ${showPercent(events / patients)} already, so nothing is changed.`;
  if (way === 'fewer others')
    return `Learned from ${showCount(events)} cases and ${showCount(Math.round((events * (1 - share)) / share))} of the ${showCount(others)} others.`;
  const more = Math.round((others * share) / (1 - share)) - events;
  return `Learned from ${now}, and ${showCount(more)} ${way === 'copies of cases' ? 'copies of cases' : 'cases made in between'}.`;
}
