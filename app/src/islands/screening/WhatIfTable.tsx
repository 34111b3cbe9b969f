import { modelInputs, type PatientValues, type WhatIf } from '@rook-scale/core/screening';
import { display, isCoded } from '@rook-scale/core/table';
import { readScore } from '@rook-scale/core/outcome';
import { showInUnit, showValue } from '../../browser/format.ts';
import { roundDigits, showFixed } from '../../browser/numbers.ts';
import { drawn } from '../../components/drawn.ts';
import type { PatientSheet } from '../../contract/patients.ts';
import styles from './OnePatient.module.css';

interface Props {
  sheet: PatientSheet;
  changes: WhatIf[];
  values: PatientValues;
  risk: number;
  cutoff: number;
  onTake: (predictor: string, value: number | string) => void;
}

type Option = WhatIf['options'][number];

/** What the risk would be if one value were different, those that matter most first. */
export function WhatIfTable({ sheet, changes, values, risk, cutoff, onTake }: Props) {
  const lines = changes
    .filter(({ options }) => options.length > 1)
    .map((change) => {
      const byRisk = [...change.options].sort((a, b) => a.score - b.score);
      return { ...change, lowest: byRisk[0], highest: byRisk[byRisk.length - 1] };
    })
    .sort((a, b) => b.highest.score - b.lowest.score - (a.highest.score - a.lowest.score));
  const isNumber = sheet.outcome.choice.kind === 'number';
  const shown = [
    risk,
    ...(Math.abs(cutoff) > 1e300 ? [] : [cutoff]),
    ...lines.flatMap(({ lowest, highest }) => [lowest.score, highest.score]),
  ];
  const most = Math.max(...shown, ...(isNumber ? [] : [0.01]));
  const least = isNumber ? Math.min(...shown) : 0;
  const show = (score: number) =>
    isNumber
      ? showInUnit(roundDigits(readScore(score, sheet.outcome.cases), 3), '')
      : showFixed(score, 2);
  return (
    <div className={styles.scroller} tabIndex={0} role="region" aria-label="What would change it">
      <table className={styles.changes}>
        <caption>If one value were different, the others as they are</caption>
        <thead>
          <tr>
            <th scope="col">Predictor</th>
            <th scope="col" className={styles.right}>
              Lowest
            </th>
            <th scope="col" className={styles.right}>
              Highest
            </th>
            <th scope="col">
              <span className={styles.ends}>
                <span>{isNumber ? show(least) : '0'}</span>
                <span>{show(most)}</span>
              </span>
            </th>
          </tr>
        </thead>
        <tbody>
          {lines.map(({ name, options, lowest, highest }) => {
            const predictor = modelInputs(sheet).find((one) => one.name === name)!;
            const take = (option: Option) => (
              <Take
                option={option}
                show={show}
                label={display(predictor)}
                onTake={() => onTake(name, rounded(option.value))}
              />
            );
            return (
              <tr key={name}>
                <th scope="row" title={display(predictor)}>
                  {display(predictor)}
                </th>
                <td className={styles.right}>{take(lowest)}</td>
                <td className={styles.right}>{take(highest)}</td>
                <td>
                  <Curve
                    options={options}
                    value={values[name]}
                    risk={risk}
                    cutoff={cutoff}
                    least={least}
                    most={most}
                    coded={isCoded(predictor.kind)}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** Three significant digits: a value one would type. */
function rounded(value: number | string): number | string {
  return typeof value === 'number' ? roundDigits(value, 3) : value;
}

interface TakeProps {
  option: Option;
  label: string;
  show: (score: number) => string;
  onTake: () => void;
}

function Take({ option, label, show, onTake }: TakeProps) {
  const { value, score } = option;
  const shown = typeof value === 'number' ? showValue(Number(rounded(value))) : value;
  return (
    <button
      type="button"
      className={styles.take}
      title={`Set ${label} to ${shown}`}
      aria-label={`${show(score)} with ${label} ${shown}. Set it.`}
      onClick={onTake}
    >
      <span className="figures">{show(score)}</span> <span className="quiet">{shown}</span>
    </button>
  );
}

const size = { width: 120, height: 22 };

interface CurveProps {
  options: Option[];
  value: number | string | null;
  risk: number;
  cutoff: number;
  least: number;
  most: number;
  coded: boolean;
}

/**
 * The risk along the range of the predictor, from left to right; levels as ticks on one line of
 * risk. The dot is the patient, the dashed line the cutoff. The figures stand beside it.
 */
function Curve({ options, value, risk, cutoff, least, most, coded }: CurveProps) {
  const share = (score: number) =>
    Math.min(1, Math.max(0, (score - least) / Math.max(1e-12, most - least)));
  const across = (part: number) => 3 + part * (size.width - 6);
  if (coded)
    return (
      <svg className={styles.curve} viewBox={`0 0 ${size.width} ${size.height}`} aria-hidden="true">
        <line x1="3" x2={size.width - 3} y1="11" y2="11" className={styles.axis} />
        <line
          x1={across(share(cutoff))}
          x2={across(share(cutoff))}
          y1="2"
          y2="20"
          className={styles.cutoff}
        />
        {options.map((option) => (
          <line
            key={option.value}
            x1={across(share(option.score))}
            x2={across(share(option.score))}
            y1="7"
            y2="15"
            className={styles.level}
          />
        ))}
        <circle cx={across(share(risk))} cy="11" r="3.5" className={styles.dot} />
      </svg>
    );
  const numbers = options.map((option) => Number(option.value));
  const [lowest, greatest] = [numbers[0], numbers[numbers.length - 1]];
  const x = (number: number) =>
    across(Math.min(1, Math.max(0, (number - lowest) / Math.max(1e-12, greatest - lowest))));
  const y = (at: number) => size.height - 3 - share(at) * (size.height - 6);
  const path = options
    .map((option, i) => `${drawn(x(numbers[i]))} ${drawn(y(option.score))}`)
    .join('L');
  return (
    <svg className={styles.curve} viewBox={`0 0 ${size.width} ${size.height}`} aria-hidden="true">
      <line x1="3" x2={size.width - 3} y1={y(least)} y2={y(least)} className={styles.axis} />
      <line x1="3" x2={size.width - 3} y1={y(cutoff)} y2={y(cutoff)} className={styles.cutoff} />
      <path d={`M${path}`} className={styles.line} />
      {typeof value === 'number' && (
        <circle cx={x(value)} cy={y(risk)} r="3.5" className={styles.dot} />
      )}
    </svg>
  );
}
