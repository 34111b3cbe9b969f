import type { SelectionShown, TrialShown, SearchLine } from '../../contract/searches.ts';
import { plural } from '../../browser/format.ts';
import { SvgFigure } from '../../components/index.ts';
import drawing from '../../components/drawing.module.css';

interface Props {
  line: SearchLine;
  selection: SelectionShown;
  trials: TrialShown[];
  /** How a predictor is shown. */
  columnName: (name: string) => string;
  /** The number of predictors that it is drawn for, as the number of what is compared. */
  number?: number;
}

const width = 780;
const frame = { left: 190, right: 130, top: 30, bottom: 30 };
const rowHeight = 20;
/** Predictors that are drawn; of more the numbers are copied. */
const mostRows = 40;

/** How often each predictor is among so many selected ones: in half samples and in folds. */
export function SelectionFigure({ line, selection, trials, number, columnName }: Props) {
  const { predictors, sets, folds, halves } = selection;
  const place = number ?? trials.length - 1;
  const size = Number(trials[place].values[0]);
  const inModel = new Set(sets?.[place]);
  const pinned = new Set(line.plan.fewer?.pinned);
  const shareOf = (of: number, times: number) => (of > 0 ? times / of : 0);
  const rows = predictors
    .map((name, i) => ({
      name: columnName(name),
      isPinned: pinned.has(name),
      inModel: inModel.has(name),
      halves: halves?.times[i][place] ?? 0,
      folds: folds?.times[i][place] ?? 0,
    }))
    .sort(
      (a, b) => b.halves - a.halves || b.folds - a.folds || Number(b.inModel) - Number(a.inModel),
    );
  const [ofHalves, ofFolds] = [halves?.of ?? 0, folds?.of ?? 0];
  const ever = rows.filter((row) => row.halves + row.folds > 0 || row.inModel);
  const drawn = ever.slice(0, mostRows);
  const height = frame.top + drawn.length * rowHeight + frame.bottom;
  const xOf = (share: number) => frame.left + share * (width - frame.left - frame.right);
  const yOf = (row: number) => frame.top + (row + 0.5) * rowHeight;
  const bottom = height - frame.bottom;
  return (
    <SvgFigure
      title={`How steady the selection of ${plural(size, 'predictor')} is`}
      caption={captionOf(rows, drawn.length, size, ofHalves, ofFolds)}
      fileName={`${line.name}-steadiness`}
      width={width}
      height={height}
      numbers={() => [
        ['predictor', 'in the model of all', 'half samples', 'of', 'folds', 'of'],
        ...rows.map((row) => [
          row.name,
          row.inModel ? 'yes' : 'no',
          row.halves,
          ofHalves,
          row.folds,
          ofFolds,
        ]),
      ]}
    >
      {[0, 0.25, 0.5, 0.75, 1].map((share) => (
        <g key={share}>
          <line
            x1={xOf(share)}
            x2={xOf(share)}
            y1={frame.top}
            y2={bottom}
            className={drawing.rule}
          />
          <text x={xOf(share)} y={bottom + 18} textAnchor="middle" className={drawing.tick}>
            {100 * share}%
          </text>
        </g>
      ))}
      <text x={width - frame.right + 14} y={frame.top - 10} className={drawing.axisName}>
        {ofHalves > 0 ? 'halves · folds' : 'folds'}
      </text>
      {drawn.map((row, i) => {
        const share = ofHalves > 0 ? shareOf(ofHalves, row.halves) : shareOf(ofFolds, row.folds);
        return (
          <g key={row.name}>
            <text
              x={frame.left - 14}
              y={yOf(i) + 4}
              textAnchor="end"
              className={drawing.axisName}
              fontWeight={row.inModel ? 700 : undefined}
            >
              {shortened(row.name)}
              {row.isPinned ? ' (pinned)' : ''}
              <title>{row.name}</title>
            </text>
            <line x1={xOf(0)} x2={xOf(share)} y1={yOf(i)} y2={yOf(i)} className={drawing.rule} />
            {ofHalves > 0 && ofFolds > 0 && (
              <line
                x1={xOf(shareOf(ofFolds, row.folds))}
                x2={xOf(shareOf(ofFolds, row.folds))}
                y1={yOf(i) - 7}
                y2={yOf(i) + 7}
                className={drawing.axis}
              />
            )}
            <circle
              cx={xOf(share)}
              cy={yOf(i)}
              r={4.5}
              fill={row.inModel ? '#171a21' : '#ffffff'}
              stroke="#171a21"
              strokeWidth="1.2"
            />
            <text x={width - frame.right + 14} y={yOf(i) + 4} className={drawing.tick}>
              {ofHalves > 0 ? `${row.halves} · ${row.folds}` : row.folds}
            </text>
          </g>
        );
      })}
    </SvgFigure>
  );
}

interface Row {
  name: string;
  inModel: boolean;
  halves: number;
  folds: number;
}

function captionOf(
  rows: Row[],
  drawn: number,
  size: number,
  ofHalves: number,
  ofFolds: number,
): string {
  const [of, where, timesOf] =
    ofHalves > 0
      ? [ofHalves, 'half sample', (row: Row) => row.halves]
      : [ofFolds, 'fold', (row: Row) => row.folds];
  if (of === 0) return 'No part has told of its selection yet.';
  const always = rows.filter((row) => timesOf(row) === of).length;
  const model = rows.filter((row) => row.inModel);
  const weak = model.filter((row) => timesOf(row) < of / 2).map(({ name }) => name);
  const marks =
    ofHalves > 0
      ? 'Dot: share of half samples, filled in the model of all; upright: share of folds.'
      : 'Dot: share of folds, filled in the model of all.';
  const steady = `With ${plural(size, 'predictor')}, ${always === 0 ? 'none is' : plural(always, 'is', 'are')} selected in all of ${plural(of, where)}.`;
  const doubt =
    weak.length > 0
      ? ` In the model of all, but in fewer than half of them: ${weak.join(', ')}.`
      : model.length > 0
        ? ' All of the model are in at least half of them.'
        : '';
  const never = rows.filter((row) => row.halves + row.folds === 0 && !row.inModel).length;
  const left = rows.length - never - drawn;
  const further = [
    left > 0 ? ` ${plural(left, 'other')} selected less often, not drawn.` : '',
    never > 0 ? ` Never selected: ${plural(never, 'other')}.` : '',
  ];
  return `${steady}${doubt} ${marks}${further.join('')}`;
}

const shortened = (name: string) => (name.length > 24 ? `${name.slice(0, 23)}…` : name);
