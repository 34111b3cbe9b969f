import type { Neighbours } from '@rook-scale/core/families';
import { modelInputs } from '@rook-scale/core/screening';
import { display } from '@rook-scale/core/table';
import { caseWords, plural, showCount, showInUnit, showPercent } from '../../browser/format.ts';
import { roundDigits, showFixed } from '../../browser/numbers.ts';
import type { PatientSheet } from '../../contract/patients.ts';
import styles from './OnePatient.module.css';

interface Props {
  sheet: PatientSheet;
  neighbours: Neighbours;
}

/** The development patients by whom this one is judged, the nearest first, beside what is known of this one. */
export function NeighboursTable({ sheet, neighbours: { inputs, own, patients } }: Props) {
  const { outcome } = sheet;
  const labels = inputs.map((input) => {
    const predictor = modelInputs(sheet).find(({ name }) => name === input);
    return predictor ? display(predictor) : input;
  });
  return (
    <>
      <p className="quiet">{captionOf(sheet, patients)}.</p>
      <div className={styles.scroller} tabIndex={0} role="region" aria-label="Nearest patients">
        <table className={styles.neighbours}>
          <thead>
            <tr>
              <th scope="col">Distance</th>
              <th scope="col">{outcome.label || outcome.choice.column}</th>
              {labels.map((label) => (
                <th key={label} scope="col" title={label}>
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr className={styles.own}>
              <th scope="row">this patient</th>
              <td />
              {own.map((value, j) => (
                <td key={inputs[j]}>{shown(value)}</td>
              ))}
            </tr>
            {patients.map((one, i) => (
              <tr key={i}>
                <td>{showFixed(one.distance, 2)}</td>
                <td>
                  <Said outcome={one.outcome} kind={outcome.choice.kind} unit={outcome.unit} />
                </td>
                {one.values.map((value, j) => (
                  <td key={inputs[j]} className={differs(value, own[j]) ? undefined : styles.alike}>
                    {shown(value)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function Said({
  outcome,
  kind,
  unit,
}: {
  outcome: number | string;
  kind: PatientSheet['outcome']['choice']['kind'];
  unit: string;
}) {
  if (kind === 'event')
    return outcome === 1 ? (
      <span className={styles.case}>● yes</span>
    ) : (
      <span className={styles.noCase}>○ no</span>
    );
  return typeof outcome === 'number' ? showInUnit(outcome, unit) : outcome;
}

const shown = (value: number | string | null): string =>
  value === null ? '–' : typeof value === 'number' ? showInUnit(roundDigits(value, 4), '') : value;

/** Levels that are not the same, or numbers that are not. */
const differs = (one: number | string | null, other: number | string | null): boolean =>
  typeof one === 'number' && typeof other === 'number'
    ? Math.abs(one - other) > 1e-9 * Math.abs(one)
    : one !== other;

function captionOf({ outcome }: PatientSheet, patients: Neighbours['patients']): string {
  if (patients.length === 0)
    return 'Nobody knows enough of the same to be compared: what all have is said';
  const asked = plural(patients.length, 'nearest patient');
  const far = `the farthest at ${showFixed(patients.at(-1)!.distance, 2)}`;
  if (outcome.choice.kind === 'number') return `Judged by the ${asked}, ${far}`;
  const cases = patients.filter(({ outcome: said }) =>
    outcome.choice.kind === 'event' ? said === 1 : isCaseLevel(outcome.cases, said),
  ).length;
  const words = caseWords(outcome);
  return `Judged by the ${asked}, ${far}: ${showCount(cases)} (${showPercent(cases / patients.length)}) had ${words}`;
}

const isCaseLevel = (cases: PatientSheet['outcome']['cases'], level: number | string): boolean =>
  cases.kind === 'levels' && cases.levels.includes(String(level));
