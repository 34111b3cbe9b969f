import { splitsByShare } from '@rook-scale/core/design';
import { patientsForWidth, usualSensitivity, widthOfShare } from '@rook-scale/core/planning';
import { useAddress } from '../../browser/address.ts';
import { plural, showCount } from '../../browser/format.ts';
import { roundTo, showFixed } from '../../browser/numbers.ts';
import { AllocationFile } from './AllocationFile.tsx';
import { SplitForm } from './SplitForm.tsx';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';
import { NumberField } from '../../components/index.ts';

/** Who is held out, and what both sides look like. */
export function HeldOut(props: SectionProps & { studyId: string }) {
  const { design, state, change } = props;
  const { counts } = state;
  const byShare = splitsByShare(design.split);
  const known = counts
    ? counts.development.patients + counts.heldOut.patients + (counts.sealed?.patients ?? 0)
    : 0;
  return (
    <section className={styles.section} aria-labelledby="held-out">
      <h2 id="held-out">Held-out patients</h2>
      <SplitForm {...props} />
      {byShare && (
        <div className={styles.fields}>
          <NumberField
            label="Share"
            value={roundTo(100 * design.heldOutShare, 2)}
            least={1}
            most={60}
            suffix="%"
            onChange={(share) => change({ heldOutShare: share / 100 })}
          />
          {known > 0 && (
            <NumberField
              label="or patients"
              // By chance it is met; whole groups and days come only near it.
              value={
                design.split.way === 'by chance' && counts
                  ? counts.heldOut.patients
                  : Math.round(known * design.heldOutShare)
              }
              least={Math.ceil(0.01 * known)}
              most={Math.floor(0.6 * known)}
              whole
              onChange={(patients) => change({ heldOutShare: patients / known })}
            />
          )}
          <NumberField
            label="Sealed"
            title="A second part that opens once, at the very end"
            value={roundTo(100 * design.sealedShare, 2)}
            least={0}
            most={35}
            suffix="%"
            onChange={(share) => change({ sealedShare: share / 100 })}
          />
          <NumberField
            label="Seed"
            value={design.seed}
            least={0}
            most={2_147_483_647}
            whole
            onChange={(seed) => change({ seed })}
          />
        </div>
      )}
      {counts ? (
        <table className={styles.sides}>
          <thead>
            <tr>
              <th scope="col">Side</th>
              <th scope="col">Patients</th>
              <th scope="col">{design.kind === 'event' ? 'Events' : 'Cases'}</th>
              <th scope="col">Share</th>
            </tr>
          </thead>
          <tbody>
            <Side name="Development" {...counts.development} />
            <Side name="Held out" {...counts.heldOut} />
            {counts.sealed && <Side name="Sealed" {...counts.sealed} />}
            <Neither name="Outcome not known" patients={counts.unused} />
            <Neither name="Not placed" patients={counts.unplaced ?? 0} />
          </tbody>
        </table>
      ) : (
        <p className="quiet">
          {state.obstacle
            ? 'Not divided: why stands at the top.'
            : 'Both sides are counted as soon as the event is chosen.'}
        </p>
      )}
      {counts && <Width cases={counts.heldOut.events} />}
      <AllocationFile {...props} divided={state.divisionId !== null} />
    </section>
  );
}

/** How sure sensitivity will be with so many held-out cases, and how many it takes for more. */
function Width({ cases }: { cases: number }) {
  const [wanted = '10', setWanted] = useAddress('width');
  const points = Number(wanted) >= 1 && Number(wanted) <= 60 ? Number(wanted) : 10;
  return (
    <>
      <p className="quiet">
        With {plural(cases, 'held-out case')}, a sensitivity of 80% comes with a 95% interval{' '}
        {Math.round(100 * widthOfShare(usualSensitivity, cases))} points wide.
      </p>
      <div className={styles.fields}>
        <NumberField
          label="Width wanted"
          value={points}
          least={1}
          most={60}
          suffix={`points: ${plural(patientsForWidth(usualSensitivity, points / 100), 'held-out case')}`}
          onChange={(next) => setWanted(String(next), 'replace')}
        />
      </div>
    </>
  );
}

function Side({ name, patients, events }: { name: string; patients: number; events: number }) {
  return (
    <tr>
      <th scope="row">{name}</th>
      <td>{showCount(patients)}</td>
      <td>{showCount(events)}</td>
      <td>{showFixed((100 * events) / Math.max(1, patients), 1)}%</td>
    </tr>
  );
}

function Neither({ name, patients }: { name: string; patients: number }) {
  if (patients === 0) return null;
  return (
    <tr>
      <th scope="row">{name}</th>
      <td>{showCount(patients)}</td>
      <td>–</td>
      <td>–</td>
    </tr>
  );
}
