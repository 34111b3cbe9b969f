import { useState } from 'react';
import type { Design, PartCounts } from '@rook-scale/core/design';
import { calibratedCutoff } from '@rook-scale/core/measures';
import { showCost } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';
import { Field, NumberField } from '../../components/index.ts';
import { hasOwnCosts } from '../risk-scale/index.ts';
import { OwnCosts } from './OwnCosts.tsx';
import type { SectionProps } from './DesignPage.tsx';
import { useSides } from './use-sides.ts';
import styles from './Design.module.css';

/** What each kind of error costs, in a unit of the study's own. */
export function Costs(props: SectionProps & { studyId: string }) {
  const { design, state, change } = props;
  const { missedCost, falseAlarmCost } = design;
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
        <UnitField
          key={design.costUnit}
          unit={design.costUnit}
          onChange={(costUnit) => change({ costUnit })}
        />
      </div>
      <OwnCosts {...props} />
      <p className="quiet">
        {hasOwnCosts(design) ? (
          <>The cutoff is put where the patients’ own costs add up to least.</>
        ) : (
          <RatioText design={design} />
        )}
      </p>
      {state.counts && <WithoutModel {...props} counts={state.counts.development} />}
    </section>
  );
}

function RatioText({ design }: { design: Design }) {
  const ratio = design.missedCost / design.falseAlarmCost;
  return (
    <>
      {design.costUnit ? `In ${design.costUnit}: only` : 'In a unit of your own: only'} the ratio
      moves the cutoff.{' '}
      {ratio === 1
        ? 'Both errors cost the same.'
        : ratio > 1
          ? `To find one more case, up to ${showDigits(ratio, 3)} false alarms are worth it.`
          : `A false alarm weighs more than a missed case, which is rare in screening: is it the right way round?`}{' '}
      {design.kind !== 'number' &&
        `A well-calibrated model would call in from a ${design.kind === 'event' ? 'risk' : 'share of cases'} of ${showFixed(calibratedCutoff(design), 3)}.`}
    </>
  );
}

/** What the errors cost of whoever uses no model: what every candidate has to do better than. */
function WithoutModel({
  studyId,
  state,
  design,
  counts,
}: SectionProps & { studyId: string; counts: PartCounts }) {
  const { data: sides } = useSides(studyId, state);
  const { patients, events } = counts;
  const per = (cost: number) => `${showCost(cost)}${design.costUnit && ` ${design.costUnit}`}`;
  const thousand = 1000 / Math.max(1, patients);
  const { nobody, everybody } = (hasOwnCosts(design) && sides?.withoutModel) || {
    nobody: thousand * events * design.missedCost,
    everybody: thousand * (patients - events) * design.falseAlarmCost,
  };
  return (
    <table className={styles.without}>
      <caption>Without a model, per 1,000 patients like those for development</caption>
      <tbody>
        <tr>
          <th scope="row">Calling nobody in</th>
          <td>{per(nobody)}</td>
        </tr>
        <tr>
          <th scope="row">Calling everybody in</th>
          <td>{per(everybody)}</td>
        </tr>
        <tr>
          <th scope="row">The reference candidate: the cheaper of both</th>
          <td>{per(Math.min(nobody, everybody))}</td>
        </tr>
      </tbody>
    </table>
  );
}

/** What costs are counted in, taken over when the field is left or Enter is pressed. */
function UnitField({ unit, onChange }: { unit: string; onChange: (unit: string) => void }) {
  const [text, setText] = useState(unit);
  const take = () => {
    if (text.trim() !== unit) onChange(text.trim());
  };
  return (
    <Field label="Unit">
      {(ids) => (
        <input
          {...ids}
          className={styles.unit}
          maxLength={20}
          placeholder="none"
          value={text}
          onChange={({ target }) => setText(target.value)}
          onBlur={take}
          onKeyDown={({ key }) => key === 'Enter' && take()}
        />
      )}
    </Field>
  );
}
