import type { Coefficient, CoefficientGroup } from '@rook-scale/core/families';
import type { CandidateDetail } from '../../contract/candidates.ts';
import { showNumber, showP } from '../../browser/format.ts';
import { roundDigits, showDigits, showFixed } from '../../browser/numbers.ts';
import { IntervalStrip } from '../../components/index.ts';
import type { FacetProps } from './Facets.tsx';
import { comparisonOf, nameOfTerm, robustWords } from './input-words.ts';
import styles from './Facets.module.css';

/** The coefficients, group after group: of one level against another, or all there are. */
export function Coefficients({
  value: { groups, byProfile, byCluster },
  detail,
}: FacetProps<'coefficients'>) {
  return (
    <>
      {groups.map((group, i) => (
        <Group key={group.title ?? i} group={group} detail={detail} />
      ))}
      {byCluster && (
        <p className={styles.note}>
          {robustWords(byCluster)} Likelihood, AIC and BIC treat rows as independent.
        </p>
      )}
      {byProfile && (
        <p className={styles.note}>
          Coefficients are bias-reduced. Their p and intervals follow the profile of the penalised
          likelihood, so they need not agree with coefficient and SE.
        </p>
      )}
    </>
  );
}

function Group({ group, detail }: { group: CoefficientGroup; detail: CandidateDetail }) {
  const { title, lines } = group;
  // Thresholds stand alone: nothing is compared, and they are no effect.
  const bare = lines.every(({ z, t, estimate }) => estimate === undefined || (!z && !t));
  const inUnits = lines.some(({ t }) => t !== undefined);
  const scale = inUnits ? unitScale(lines) : ratioScale;
  return (
    <table className={styles.table}>
      {title && <caption>{title}</caption>}
      <thead>
        <tr>
          <th scope="col">{bare ? 'Between' : 'Input'}</th>
          <th scope="col">{bare ? '' : 'Compared'}</th>
          <th scope="col">{bare ? 'Threshold' : 'Coefficient'}</th>
          <th scope="col">SE</th>
          {!bare && (
            <>
              <th scope="col">{inUnits ? 't' : 'z'}</th>
              <th scope="col">p</th>
              {!inUnits && <th scope="col">Odds ratio</th>}
              <th scope="col">95% interval</th>
              <th scope="col" title="Variance inflation factor">
                VIF
              </th>
              <th scope="col" className={styles.scaleHead}>
                {scale.words.map((word) => (
                  <span key={word}>{word}</span>
                ))}
              </th>
            </>
          )}
        </tr>
      </thead>
      <tbody>
        {lines.map((row) => (
          <Line
            key={row.term}
            row={row}
            detail={detail}
            bare={bare}
            inUnits={inUnits}
            scale={scale}
          />
        ))}
      </tbody>
    </table>
  );
}

interface Scale {
  from: number;
  to: number;
  ticks: number[];
  words: string[];
}

const ratioScale: Scale = {
  from: Math.log(0.1),
  to: Math.log(10),
  ticks: [0.1, 0.2, 0.5, 1, 2, 5, 10].map(Math.log),
  words: ['0.1', '1', '10'],
};

/** As far to both sides as the largest interval of an input reaches. */
function unitScale(lines: Coefficient[]): Scale {
  const ends = lines
    .filter(({ term }) => term !== 'Intercept')
    .flatMap(({ estimate = 0, interval = [0, 0] }) => [estimate, ...interval].map(Math.abs));
  const reach = roundDigits(Math.max(1e-9, ...ends), 2);
  return {
    from: -reach,
    to: reach,
    ticks: [-reach, 0, reach],
    words: [`−${reach}`, '0', `${reach}`],
  };
}

interface LineProps {
  row: Coefficient;
  detail: CandidateDetail;
  bare: boolean;
  inUnits: boolean;
  scale: Scale;
}

function Line({ row, detail, bare, inUnits, scale }: LineProps) {
  const intercept = row.term === 'Intercept';
  const name = nameOfTerm(row.term, detail);
  const compared = comparisonOf(row.term, detail);
  const head = (
    <>
      <th scope="row" title={name}>
        {name}
      </th>
      <td className={styles.compared} title={compared}>
        {compared}
      </td>
    </>
  );
  if (bare)
    return (
      <tr>
        {head}
        {row.estimate === undefined ? (
          <td colSpan={2} className={styles.none}>
            no estimate
          </td>
        ) : (
          <>
            <td>{showCoefficient(row.estimate)}</td>
            <td>{row.standardError === undefined ? '–' : showCoefficient(row.standardError)}</td>
          </>
        )}
      </tr>
    );
  const { oddsRatio, oddsRatioInterval: ratios, interval } = row;
  const statistic = row.z ?? row.t;
  const onScale = inUnits
    ? interval
    : ratios && ([Math.log(ratios[0]), Math.log(ratios[1])] as [number, number]);
  const shown = inUnits
    ? interval?.map(showCoefficient).join(' – ')
    : ratios?.map(showRatio).join(' – ');
  const hidden = intercept && !inUnits;
  return (
    <tr>
      {head}
      {row.estimate === undefined ? (
        <td colSpan={4} className={styles.none}>
          no estimate
        </td>
      ) : (
        <>
          <td>{showCoefficient(row.estimate)}</td>
          <td>{row.standardError === undefined ? '–' : showCoefficient(row.standardError)}</td>
          <td>{statistic === undefined ? '–' : showFixed(statistic, 2)}</td>
          <td>{row.p === undefined ? '–' : showP(row.p)}</td>
        </>
      )}
      {!inUnits && <td>{intercept ? '' : showRatio(oddsRatio)}</td>}
      <td>{hidden ? '' : (shown ?? '–')}</td>
      <td>{row.inflation === undefined ? '' : showInflation(row.inflation)}</td>
      <td className={styles.strip}>
        {!intercept && row.estimate !== undefined && (
          <IntervalStrip
            value={row.estimate}
            interval={onScale}
            from={scale.from}
            to={scale.to}
            beside={0}
            ticks={scale.ticks}
          />
        )}
      </td>
    </tr>
  );
}

/** Three decimals, or three digits of one too large for a column. */
function showCoefficient(value: number): string {
  return Math.abs(value) < 1e4 ? showFixed(value, 3) : showDigits(value, 3);
}

const showInflation = (factor: number) => (factor < 1000 ? showFixed(factor, 1) : '>1000');

/** Two decimals, or one from 10 on; ratios run to thousands when the data say little. */
function showRatio(ratio: number | undefined): string {
  if (ratio === undefined) return '–';
  if (ratio > 1e6) return '>10⁶';
  if (ratio < 1e-6) return '<10⁻⁶';
  if (ratio >= 1000 || (ratio > 0 && ratio < 0.005)) return showNumber(ratio, 2);
  return showFixed(ratio, ratio >= 10 ? 1 : 2);
}
