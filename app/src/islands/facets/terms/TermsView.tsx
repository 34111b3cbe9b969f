import type { TermsShown } from '@rook-scale/core/families';
import { plural, showP, showPercent, showInUnit } from '../../../browser/format.ts';
import { roundDigits, showFixed } from '../../../browser/numbers.ts';
import { SvgFigure } from '../../../components/index.ts';
import { short } from '../ensemble/words.ts';
import type { FacetProps } from '../Facets.tsx';
import { comparisonOf, nameOfTerm, robustWords } from '../input-words.ts';
import { CurvePanel, panelHeight, panelWidth } from './CurvePanel.tsx';
import { inOwnUnit } from './own-unit.ts';
import styles from './Terms.module.css';

const across = 3;

/** What each predictor adds: curves with their bands on one scale, and what is added per unit of the others. */
export function TermsView({ value: shown, detail, line }: FacetProps<'terms'>) {
  const { curves, lines, outcome } = shown;
  const unit = outcome === 'event' ? 'log-odds' : (line.outcome?.unit ?? '');
  const nameOf = (input: string) => nameOfTerm(input, detail);
  const reach = roundDigits(Math.max(1e-9, ...curves.map(reachOf)), 2);
  const rows = Math.ceil(curves.length / across);
  const places = curves.map(({ input }) => inOwnUnit(input, detail));
  return (
    <section>
      {shown.byCluster && <p className={styles.note}>{robustWords(shown.byCluster)}</p>}
      {curves.length > 0 && (
        <SvgFigure
          title="What each number adds"
          caption={captionOf(shown, nameOf, unit)}
          width={across * panelWidth}
          height={rows * panelHeight}
          fileName={`${line.name}-curves`}
          numbers={() => [
            ['predictor', 'value', 'added', 'standard error'],
            ...curves.flatMap(({ input, at, values, error }, t) =>
              at.map((x, k) => [nameOf(input), places[t](x), values[k], error[k]]),
            ),
          ]}
        >
          {curves.map((curve, t) => (
            <g
              key={curve.input}
              transform={`translate(${(t % across) * panelWidth} ${Math.floor(t / across) * panelHeight})`}
            >
              <CurvePanel
                curve={curve}
                name={nameOf(curve.input)}
                place={places[t]}
                reach={reach}
              />
            </g>
          ))}
        </SvgFigure>
      )}
      {lines.length > 0 && (
        <table className={styles.table}>
          <caption>Straight lines and levels</caption>
          <thead>
            <tr>
              <th scope="col">Input</th>
              <th scope="col">Compared</th>
              <th scope="col">Adds{outcome === 'event' ? ', log-odds' : ''}</th>
              <th scope="col">SE</th>
              <th scope="col">p</th>
              {outcome === 'event' && <th scope="col">Odds ratio</th>}
            </tr>
          </thead>
          <tbody>
            {lines.map(({ input, estimate, standardError, p }) => (
              <tr key={input}>
                <th scope="row">{nameOf(input)}</th>
                <td className={styles.compared}>{comparisonOf(input, detail)}</td>
                <td>{signed(estimate)}</td>
                <td>{standardError === undefined ? '–' : showFixed(standardError, 3)}</td>
                <td>{p === undefined ? '–' : showP(p)}</td>
                {outcome === 'event' && <td>{short(Math.exp(estimate))}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** How far a curve goes from 0, with its band where most patients are. */
function reachOf({ at, values, error, deciles }: TermsShown['curves'][number]): number {
  const [from, to] = [deciles[0], deciles[deciles.length - 1]];
  return Math.max(
    ...values.map((one, k) => Math.abs(one) + (at[k] >= from && at[k] <= to ? 2 * error[k] : 0)),
  );
}

const signed = (value: number): string => showFixed(value, 3);

function captionOf(
  { curves, degrees, explained, deviation, outcome }: TermsShown,
  nameOf: (input: string) => string,
  unit: string,
): string {
  const bent = curves.filter(({ bent }) => bent !== undefined && bent.p < 0.05);
  const names = bent.map(({ input }) => nameOf(input)).join(', ');
  const shape =
    bent.length === 0
      ? 'No curve is bent by more than chance would (p below 0.05)'
      : `Bent by more than chance would (p below 0.05): ${names}`;
  const left =
    deviation === undefined
      ? ''
      : `, and leaves a deviation of ${showInUnit(Number(short(deviation)), unit)}`;
  const what = outcome === 'event' ? 'deviance' : 'variance';
  return `${shape}. With ${short(degrees)} degrees of freedom the model explains ${showPercent(explained)} of the ${what}${left}. All ${plural(curves.length, 'curve')} on one scale${unit ? `, ${unit}` : ''}; bands are 95%; dashed: the straight line nearest to the patients; ticks: their deciles.`;
}
