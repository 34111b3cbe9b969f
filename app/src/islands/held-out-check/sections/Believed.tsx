import { useCallback, useState } from 'react';
import { calibrationOf, type Calibration, type Estimate } from '@rook-scale/core/measures';
import { plural, showCount, showP, showPercent } from '../../../browser/format.ts';
import { roundTo, showFixed } from '../../../browser/numbers.ts';
import { NumberField, SavedTable } from '../../../components/index.ts';
import { CalibrationFigure } from './CalibrationFigure.tsx';
import { Recalibrate } from './Recalibrate.tsx';
import { casesIn, type SectionProps } from './section.ts';
import { useLater } from './use-later.ts';
import styles from './Sections.module.css';

/** Whether of those who are told a risk as many are cases. */
export function Believed(props: SectionProps) {
  const { patients, words } = props;
  const found = useLater(useCallback(() => calibrationOf(patients.ranked), [patients]));
  if (!found)
    return (
      <p role="status" className={styles.waiting}>
        Setting risks against what happened
      </p>
    );
  return (
    <>
      <p>{summary(found)}</p>
      {found.certain > 0 && (
        <p>
          {plural(found.certain, 'patient')} {found.certain === 1 ? 'is' : 'are'} told a risk of 0
          or 1, which has no log-odds: intercept and slope cannot be told.
        </p>
      )}
      <div className={styles.pair}>
        <CalibrationFigure found={found} patients={patients} />
        <div className={styles.beside}>
          {found.smooth && <AtRisk smooth={found.smooth} words={words} />}
          <Figures found={found} words={words} />
        </div>
      </div>
      <Recalibrate {...props} key={props.line.id} />
    </>
  );
}

/** What intercept and slope say, with what chance leaves of it. */
function summary({ told, share, moved }: Calibration): string {
  const whole = `On the whole ${showPercent(told)} are told and ${showPercent(share)} are cases.`;
  if (!moved) return whole;
  const { large, slope } = moved;
  const isOff = ({ interval }: Estimate, none: number) => interval[0] > none || interval[1] < none;
  const parts = [
    ...(isOff(large, 0)
      ? [large.value > 0 ? 'risks are too low on the whole' : 'risks are too high on the whole']
      : []),
    ...(isOff(slope, 1)
      ? [
          slope.value < 1
            ? 'they are too extreme: high ones too high, low ones too low'
            : 'they are too timid: high ones too low, low ones too high',
        ]
      : []),
  ];
  return parts.length === 0
    ? `${whole} Neither the level nor the spread of the risks can be told from right.`
    : `${whole} More than chance explains, ${parts.join(', and ')}.`;
}

/** "Of 100 patients told 20%, 24 had it." */
function AtRisk({
  smooth,
  words,
}: {
  smooth: NonNullable<Calibration['smooth']>;
  words: SectionProps['words'];
}) {
  const [least, most] = [smooth[0].told, smooth[smooth.length - 1].told].map((risk) => 100 * risk);
  const [from, to] = [Math.ceil(10 * least) / 10, Math.floor(10 * most) / 10];
  const usual = Math.min(to, Math.max(from, 20));
  const [percent, setPercent] = useState(roundTo(usual, 1));
  const next = smooth.findIndex(({ told }) => told >= percent / 100);
  const [a, b] = [smooth[Math.max(0, next - 1)], smooth[Math.max(0, next)]];
  const part = b.told > a.told ? (percent / 100 - a.told) / (b.told - a.told) : 0;
  const found = Math.min(1, Math.max(0, a.found + part * (b.found - a.found)));
  return (
    <div className={styles.asked}>
      <NumberField
        label="Told a risk of"
        value={percent}
        least={from}
        most={to}
        suffix="%"
        onChange={setPercent}
      />
      <p>
        Of 100 patients told {percent}%, <strong>{showFixed(100 * found, 0)}</strong> had{' '}
        {casesIn(words).case}.
      </p>
    </div>
  );
}

interface Row {
  name: string;
  value: string;
  says: string;
}

/** Rows of the table, of what can be told of these patients. */
function rowsOf(found: Calibration, words: SectionProps['words']): Row[] {
  const { moved, distance, hosmerLemeshow: test, toldCases, toldOthers } = found;
  const { cases, others } = casesIn(words);
  const estimate = (name: string, { value, interval }: Estimate, says: string): Row => ({
    name,
    value: signed(value),
    says: `${interval.map(signed).join(' to ')}; ${says}`,
  });
  const hasBound = Number.isFinite(found.logLoss);
  return [
    ...(moved
      ? [
          estimate('Intercept', moved.large, 'added to all log-odds, 0 is right'),
          estimate('Slope', moved.slope, 'of the log-odds, 1 is right'),
        ]
      : []),
    {
      name: 'Brier score',
      value: showFixed(found.brier, 4),
      says:
        found.scaledBrier === undefined
          ? ''
          : `${showPercent(found.scaledBrier)} less than if all were told ${showPercent(found.share)}`,
    },
    {
      name: 'Log loss',
      value: hasBound ? showFixed(found.logLoss, 4) : 'no bound',
      says: hasBound ? '' : 'somebody was told a risk of 0 or 1, wrongly',
    },
    ...(distance
      ? [
          {
            name: 'Calibration index',
            value: showFixed(distance.mean, 4),
            says: `mean distance of risk and smooth curve; 9 of 10 are within ${showFixed(distance.ninety, 3)}`,
          },
        ]
      : []),
    ...(test
      ? [
          {
            name: 'Hosmer–Lemeshow',
            value: showFixed(test.chiSquare, 2),
            says: `${test.degrees} groups, p ${showP(test.p)}; a small p says that risks are off`,
          },
        ]
      : []),
    ...(toldCases !== undefined && toldOthers !== undefined
      ? [
          { name: 'Mean risk, cases', value: showFixed(toldCases, 3), says: `of those ${cases}` },
          {
            name: 'Mean risk, others',
            value: showFixed(toldOthers, 3),
            says: `of ${others === 'of the others' ? 'the others' : `those ${others}`}`,
          },
        ]
      : []),
  ];
}

function Figures({ found, words }: { found: Calibration; words: SectionProps['words'] }) {
  return (
    <SavedTable fileName="calibration-figures">
      <table className={`${styles.table} ${styles.rates}`}>
        <caption className="hidden">
          Figures of calibration in {showCount(found.patients)} patients
        </caption>
        <thead>
          <tr>
            <th scope="col">Figure</th>
            <th scope="col">Value</th>
            <th scope="col" className={styles.sentence}>
              95% interval, and what it says
            </th>
          </tr>
        </thead>
        <tbody>
          {rowsOf(found, words).map(({ name, value, says }) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td className={styles.value}>{value}</td>
              <td className={styles.sentence}>{says}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </SavedTable>
  );
}

const signed = (value: number) => showFixed(value, 2);
