import type { RecalibrationShown } from '@rook-scale/core/families';
import { plural, showPercent } from '../../../browser/format.ts';
import { showExact, showFixed } from '../../../browser/numbers.ts';
import { Axes, frame, pathThrough, placesIn, SvgFigure } from '../../../components/index.ts';
import type { FacetProps } from '../Facets.tsx';
import styles from './Recalibration.module.css';

/** What risks become, and whether that was worth it where the candidate had not learned. */
export function RecalibrationView({ value: shown }: FacetProps<'recalibration'>) {
  const { name, before, after, patients, cases, points } = shown;
  return (
    <div className={styles.beside}>
      {points.length > 0 ? <MovedFigure points={points} /> : <div />}
      <div className={styles.words}>
        <table className={styles.table}>
          <caption>Risks of {name}, out of fold</caption>
          <thead>
            <tr>
              <th scope="col">Figure</th>
              <th scope="col">As predicted</th>
              <th scope="col">Recalibrated</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ label, of }) => (
              <tr key={label}>
                <th scope="row">{label}</th>
                <td>{of(before)}</td>
                <td>{of(after)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p>{mapText(shown)}</p>
        {shown.clipped && (
          <p>
            {plural(shown.clipped.patients, 'predicted risk')} below {percent(shown.clipped.least)}{' '}
            or above {percent(1 - shown.clipped.least)} count as these: so few patients cannot
            support more extreme risks.
          </p>
        )}
        <p className="quiet">
          The map is learned from out-of-fold risks of {plural(patients, 'development patient')},{' '}
          {cases} with the event ({showPercent(cases / patients)}). The table shows each patient
          with a map learned without the patient’s inner fold. The held-out patients play no part.
        </p>
      </div>
    </div>
  );
}

const percent = (risk: number) => `${showExact(Math.round(1e4 * risk) / 100)}%`;

const rows: { label: string; of: (losses: RecalibrationShown['before']) => string }[] = [
  { label: 'Mean risk', of: ({ told }) => `${showFixed(100 * told, 1)}%` },
  { label: 'Brier score', of: ({ brier }) => showFixed(brier, 4) },
  {
    label: 'Log loss',
    of: ({ logLoss }) => (logLoss === undefined ? 'no bound' : showFixed(logLoss, 4)),
  },
];

function mapText({ how, line, points, name }: RecalibrationShown): string {
  if (points.length === 0)
    return `Nothing could be learned: the risks of ${name} are as they were.`;
  if (!line)
    return 'The map rises as the shares of cases do; patients between two steps of it keep their order, those on one are told the same.';
  const { constant, slope } = line;
  if (slope === 0)
    return 'The risks say nothing about who has the event, so everybody is told the share of cases.';
  const raised = `${showFixed(Math.abs(constant), 2)} is ${constant < 0 ? 'taken off' : 'added to'} the log-odds`;
  if (how === 'intercept') return `${raised} of every patient.`;
  const spread = slope < 1 ? 'less extreme' : 'more extreme';
  return `Log-odds are multiplied by ${showFixed(slope, 2)}, which makes risks ${spread}, then ${raised}.`;
}

function MovedFigure({ points }: Pick<RecalibrationShown, 'points'>) {
  const most = Math.max(...points.flat());
  const to = Math.min(1, Math.ceil(10 * most) / 10);
  const [across, up] = [
    { name: 'risk told', from: 0, to },
    { name: 'recalibrated risk', from: 0, to },
  ];
  const places = placesIn(across, up);
  return (
    <SvgFigure
      title="What risks become"
      caption="The line leads from the risk that the candidate tells to the recalibrated one; on the dotted line it stays what it is."
      fileName="recalibration"
      width={frame.width}
      height={frame.height}
      numbers={() => [['risk told', 'recalibrated risk'], ...points]}
    >
      <Axes across={across} up={up} />
      <path
        d={pathThrough(
          [
            [0, 0],
            [to, to],
          ],
          places,
        )}
        className={styles.same}
      />
      <path d={pathThrough(points, places)} className={styles.curve} />
    </SvgFigure>
  );
}
