import type { Coefficient } from '@rook-scale/core/families';
import type { InputMeaning } from '@rook-scale/core/preparation';
import { showCount, showNumber, showP } from '../../browser/format.ts';
import { IntervalStrip } from '../../components/index.ts';
import type { CandidateDetail } from '../../server/candidates.ts';
import styles from './CoefficientTable.module.css';

const ends = [Math.log(0.1), Math.log(10)] as const;
const ticks = [0.1, 0.2, 0.5, 1, 2, 5, 10].map(Math.log);

/** What a likelihood fit says of each input, with the figures of the fit. */
export function CoefficientTable({ name, detail }: { name: string; detail: CandidateDetail }) {
  const { coefficients = [], likelihood: fit } = detail;
  return (
    <>
      <div className={styles.head}>
        <h2>{name}: coefficients</h2>
        {fit && (
          <dl className={styles.fit}>
            <Fact name="log-likelihood" value={fit.logLikelihood.toFixed(1)} />
            <Fact
              name="null deviance"
              value={fit.nullDeviance.toFixed(1)}
              more={`${showCount(fit.nullDegrees)} df`}
            />
            <Fact
              name="residual deviance"
              value={fit.residualDeviance.toFixed(1)}
              more={`${showCount(fit.residualDegrees)} df`}
            />
            <Fact name="AIC" value={fit.aic.toFixed(1)} />
            <Fact name="iterations" value={String(fit.iterations)} />
          </dl>
        )}
      </div>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Input</th>
            <th scope="col">Compared</th>
            <th scope="col">Coefficient</th>
            <th scope="col">SE</th>
            <th scope="col">z</th>
            <th scope="col">p</th>
            <th scope="col">Odds ratio</th>
            <th scope="col">95% interval</th>
            <th scope="col" className={styles.scaleHead}>
              <span>0.1</span>
              <span>1</span>
              <span>10</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {coefficients.map((row) => (
            <Line key={row.term} row={row} detail={detail} />
          ))}
        </tbody>
      </table>
    </>
  );
}

function Fact({ name, value, more }: { name: string; value: string; more?: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>
        {value}
        {more && <span> ({more})</span>}
      </dd>
    </div>
  );
}

function Line({ row, detail }: { row: Coefficient; detail: CandidateDetail }) {
  const input = detail.inputs.find((one) => one.name === row.term);
  const intercept = row.term === 'Intercept';
  const name = input ? nameOf(input, detail) : row.term;
  const compared = input ? comparison(input, detail) : '';
  const { oddsRatio, oddsRatioInterval: interval } = row;
  return (
    <tr>
      <th scope="row" title={name}>
        {name}
      </th>
      <td className={styles.compared} title={compared}>
        {compared}
      </td>
      {row.estimate === undefined ? (
        <td colSpan={4} className={styles.none}>
          no estimate
        </td>
      ) : (
        <>
          <td>{showCoefficient(row.estimate)}</td>
          <td>{row.standardError === undefined ? '–' : showCoefficient(row.standardError)}</td>
          <td>{row.z === undefined ? '–' : row.z.toFixed(2)}</td>
          <td>{row.p === undefined ? '–' : showP(row.p)}</td>
        </>
      )}
      <td>{intercept ? '' : showRatio(oddsRatio)}</td>
      <td>
        {intercept ? '' : interval ? `${showRatio(interval[0])} – ${showRatio(interval[1])}` : '–'}
      </td>
      <td className={styles.strip}>
        {!intercept && row.estimate !== undefined && (
          <IntervalStrip
            value={row.estimate}
            interval={interval && [Math.log(interval[0]), Math.log(interval[1])]}
            from={ends[0]}
            to={ends[1]}
            beside={0}
            ticks={ticks}
          />
        )}
      </td>
    </tr>
  );
}

/** Three decimals, or three digits of one too large for a column. */
function showCoefficient(value: number): string {
  return Math.abs(value) < 1e4 ? value.toFixed(3) : value.toPrecision(3);
}

/** Two decimals, or one from 10 on; ratios run to thousands when the data say little. */
function showRatio(ratio: number | undefined): string {
  if (ratio === undefined) return '–';
  if (ratio > 1e6) return '>10⁶';
  if (ratio < 1e-6) return '<10⁻⁶';
  if (ratio >= 1000 || (ratio > 0 && ratio < 0.005)) return showNumber(ratio, 2);
  return ratio.toFixed(ratio >= 10 ? 1 : 2);
}

function nameOf(input: InputMeaning, { labels }: CandidateDetail): string {
  const labelOf = (column: string) => labels[column]?.label || column;
  if (input.columns) return `${input.columns.map(labelOf).join(', ')} not known`;
  const label = labelOf(input.column);
  return input.kind === 'gap' ? `${label} not known` : label;
}

/** What one step of the input means. */
function comparison(input: InputMeaning, { labels }: CandidateDetail): string {
  if (input.kind === 'gap') return 'yes, not no';
  if (input.kind === 'level') return `${input.level}, not ${input.reference}`;
  const unit = labels[input.column]?.unit;
  return `per SD, ${Number(input.sd!.toPrecision(3))}${unit ? ` ${unit}` : ''}`;
}
