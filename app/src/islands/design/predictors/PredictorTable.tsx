import { useQuery } from '@tanstack/react-query';
import { display, isCoded, type ColumnSummary } from '@rook-scale/core/table';
import { candidateRoutes } from '../../../contract/candidates.ts';
import { ask } from '../../../browser/api.ts';
import { showPercent, showValue } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { Name } from '../../../components/index.ts';
import { MarkButtons } from './MarkButtons.tsx';
import { closeness, type ListProps, type Offered } from './offered.ts';
import page from '../Design.module.css';
import styles from './Predictors.module.css';

/** Each column with its gaps, shape and relation, and the candidates that use it. */
export function PredictorTable(props: ListProps & { studyId: string }) {
  const { shown, chosen, marked, onToggle, onMark, studyId } = props;
  const { data: candidates = [] } = useQuery({
    queryKey: ['candidates', studyId],
    queryFn: () => ask(candidateRoutes.list, { study: studyId }),
  });
  return (
    <div className={styles.scroll} tabIndex={0} role="region" aria-label="Predictors with figures">
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Predictor</th>
            <th scope="col">Kind</th>
            <th scope="col" className={page.right}>
              Gaps
            </th>
            <th scope="col">Shape</th>
            <th scope="col" className={page.right}>
              Relation
            </th>
            <th scope="col">Used by</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((offered) => {
            const { entry, summary, missing, relation } = offered;
            const users = candidates.filter(({ uses }) => uses.includes(entry.name));
            return (
              <tr key={entry.name}>
                <th scope="row">
                  <label title={entry.name}>
                    <input
                      type="checkbox"
                      checked={chosen.has(entry.name)}
                      onChange={() => onToggle(entry.name)}
                    />
                    <Name text={display(entry)} title={entry.name} />
                  </label>
                  {chosen.has(entry.name) && (
                    <span className={styles.marks}>
                      <MarkButtons {...{ entry, marked, onMark }} />
                    </span>
                  )}
                </th>
                <td className="quiet">{entry.kind}</td>
                <td className={page.number}>{missing > 0 ? showPercent(missing) : '–'}</td>
                <td>
                  <ShapeStrip offered={offered} />
                  <span className={styles.shapeText}>{shapeText(summary, offered)}</span>
                </td>
                <td className={page.number}>
                  {relation ? (
                    <>
                      <svg viewBox="0 0 40 8" className={styles.relation} aria-hidden="true">
                        <rect width={40 * closeness(relation)} height={8} />
                      </svg>
                      <span title={relation.measure}>{symbols[relation.measure]}</span>{' '}
                      {showFixed(relation.strength.value, 2)}
                    </>
                  ) : (
                    '–'
                  )}
                </td>
                <td className="quiet" title={users.map(({ name }) => name).join(', ')}>
                  {users.map(({ name }) => name).join(', ')}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** The measures in the width of a column. */
const symbols: Record<NonNullable<Offered['relation']>['measure'], string> = {
  AUC: 'AUC',
  'Cramér’s V': 'V',
  'correlation ratio': 'η',
  Spearman: 'ρ',
};

/** A number as the stretch from least to greatest with its quartiles, levels as parts of one bar. */
function ShapeStrip({ offered: { entry, summary } }: { offered: Offered }) {
  const { numbers, counts } = summary;
  if (isCoded(entry.kind) && counts) {
    const known = Math.max(
      1,
      counts.reduce((sum, count) => sum + count, 0),
    );
    const ends = counts.map((_, k) => counts.slice(0, k).reduce((sum, one) => sum + one, 0));
    return (
      <svg
        viewBox="0 0 100 10"
        preserveAspectRatio="none"
        className={styles.strip}
        aria-hidden="true"
      >
        {counts.map((count, k) => (
          <rect
            key={k}
            x={(100 * ends[k]) / known}
            width={Math.max(0, (100 * count) / known - 0.6)}
            height={10}
            className={k % 2 ? styles.odd : styles.even}
          />
        ))}
      </svg>
    );
  }
  if (!numbers || !(numbers.greatest > numbers.least)) return null;
  const { least, greatest, lowerQuartile, median, upperQuartile } = numbers;
  const x = (value: number) => (100 * (value - least)) / (greatest - least);
  return (
    <svg
      viewBox="0 0 100 10"
      preserveAspectRatio="none"
      className={styles.strip}
      aria-hidden="true"
    >
      <rect x={0} y={4.5} width={100} height={1} className={styles.odd} />
      <rect
        x={x(lowerQuartile)}
        width={Math.max(1, x(upperQuartile) - x(lowerQuartile))}
        height={10}
        className={styles.even}
      />
      <rect x={x(median) - 0.5} width={1.2} height={10} className={styles.middle} />
    </svg>
  );
}

function shapeText({ numbers, counts }: ColumnSummary, { entry }: Offered): string {
  if (numbers) return `${showValue(numbers.least)} – ${showValue(numbers.greatest)}`;
  if (!counts) return '';
  const most = counts.indexOf(Math.max(...counts));
  return entry.levels && counts.length > 0
    ? `${entry.levels.length} levels, most ${entry.levels[most]}`
    : '';
}
