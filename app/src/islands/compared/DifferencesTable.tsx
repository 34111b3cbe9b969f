import { holm, type Compared, type ComparedMeasure } from '@rook-scale/core/comparing';
import { plural, showP } from '../../browser/format.ts';
import type { CandidateLine } from '../../contract/candidates.ts';
import { DifferenceStrip, SavedTable } from '../../components/index.ts';
import { figureOf, measureNames, signed } from './words.ts';
import styles from './Compared.module.css';

/** Measures that differences are shown of. */
const shown: ComparedMeasure['id'][] = ['cost', 'area', 'sensitivity', 'specificity'];

interface Props {
  lines: CandidateLine[];
  letters: Map<string, string>;
  /** Each but the first beside the first. */
  found: Compared[];
  /** In words, of so many. */
  who: (patients: number) => string;
}

/** Each candidate less the first, on the same patients. */
export function DifferencesTable({ lines, letters, found, who }: Props) {
  const [base, ...others] = lines;
  const cells = found.map(({ measures }) =>
    shown.map((id) => measures.find((measure) => measure.id === id)),
  );
  const tested = cells.flat().filter((cell) => cell?.p !== undefined);
  const corrected = holm(tested.map((cell) => cell!.p!));
  const pOf = (cell: ComparedMeasure | undefined) =>
    cell?.p === undefined ? undefined : corrected[tested.indexOf(cell)];
  const reaches = shown.map((_, k) =>
    Math.max(
      1e-9,
      ...cells.flatMap((row) => [
        Math.abs(row[k]?.difference ?? 0),
        ...(row[k]?.interval ?? []).map(Math.abs),
      ]),
    ),
  );
  return (
    <SavedTable fileName="differences">
      <table className={styles.table}>
        <caption>
          Each less {letters.get(base.id)}, at the cutoffs chosen, in the same{' '}
          {who(found[0].patients)}; intervals are 95%. p is corrected for all{' '}
          {plural(tested.length, 'comparison')} of this table (Holm).
        </caption>
        <thead>
          <tr>
            <th scope="col">Candidate</th>
            {shown.map((id) => (
              <th scope="col" key={id}>
                {measureNames[id]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">
              <span className={styles.mark}>{letters.get(base.id)}</span> {base.name}
            </th>
            {shown.map((id, k) => {
              const own = cells[0][k]?.values[1];
              return <td key={id}>{own === undefined ? '–' : figureOf(id, own)}</td>;
            })}
          </tr>
          {others.map((line, row) => (
            <tr key={line.id}>
              <th scope="row">
                <span className={styles.mark}>{letters.get(line.id)}</span> {line.name}
              </th>
              {shown.map((id, k) => (
                <Difference
                  key={id}
                  id={id}
                  cell={cells[row][k]}
                  p={pOf(cells[row][k])}
                  reach={reaches[k]}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </SavedTable>
  );
}

function Difference({
  id,
  cell,
  p,
  reach,
}: {
  id: ComparedMeasure['id'];
  cell: ComparedMeasure | undefined;
  p: number | undefined;
  /** The farthest of its column from none. */
  reach: number;
}) {
  if (!cell) return <td>–</td>;
  const { difference, interval } = cell;
  return (
    <td>
      <span className={styles.found}>
        <span className={styles.interval}>{p === undefined ? '' : `p ${showP(p)}`}</span>
        {signed(id, difference)}
      </span>
      <DifferenceStrip {...{ difference, interval, reach }} />
      {interval && (
        <span className={styles.interval}>
          {signed(id, interval[0])} to {signed(id, interval[1])}
        </span>
      )}
    </td>
  );
}
