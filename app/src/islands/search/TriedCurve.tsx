import { useMemo } from 'react';
import type { TrialShown } from '../../contract/searches.ts';
import { showDigits } from '../../browser/numbers.ts';
import { drawn } from '../../components/drawn.ts';
import { SvgFigure } from '../../components/index.ts';
import { placesOf } from './slices.ts';
import type { DrawingProps } from './TriedMap.tsx';
import { fieldsOfSearch, labelOf, settingsText, showTried, valueText } from './words.ts';
import drawing from '../../components/drawing.module.css';
import styles from './Search.module.css';

const width = 780;
const panelHeight = 240;
const frame = { left: 52, right: 74, top: 26, bottom: 44 };
const dashes = ['', '7 3', '2 3', '9 3 2 3', '1 5', '12 4', '5 2 1 2', '3 6'];

/** Lines along one setting with standard errors; what was learned from hollow and pale beside them. */
export function TriedCurve(props: DrawingProps) {
  const { line, detail, measure, picked, onPick, sides, controls, rest, withLearned } = props;
  const fields = fieldsOfSearch(line);
  const { across, down, panels } = sides;
  const at = useMemo(() => placesOf(detail, sides, measure), [detail, sides, measure]);
  const panelCount = panels?.values.length ?? 1;
  const inRow = Math.min(panelCount, 2);
  const panelWidth = width / inRow;
  const height = Math.ceil(panelCount / inRow) * panelHeight;
  const lines = (panels?.values ?? [undefined]).flatMap((_, panel) =>
    (down?.values ?? [undefined]).map((value, y) => ({
      panel,
      y,
      value,
      points: across.values.flatMap((__, x) => {
        const trial = at({ across: x, ...(down && { down: y }), ...(panels && { panel }) });
        return trial ? [{ x, trial }] : [];
      }),
    })),
  );
  const drawn = lines.flatMap(({ points }) => points.map(({ trial }) => trial));
  const hasLearned = withLearned && drawn.some(({ development }) => development !== undefined);
  const ends = drawn.flatMap(({ value, error = 0, development }) => [
    value! - error,
    value! + error,
    ...(development === undefined || !withLearned ? [] : [development]),
  ]);
  // Before anything was tried there are no ends.
  const scale =
    ends.length > 0 ? roundScale(Math.min(...ends), Math.max(...ends)) : roundScale(0, 1);
  const boxOf = (panel: number) => ({
    left: (panel % inRow) * panelWidth + frame.left,
    right: (panel % inRow) * panelWidth + panelWidth - frame.right,
    top: Math.floor(panel / inRow) * panelHeight + frame.top,
    bottom: Math.floor(panel / inRow) * panelHeight + panelHeight - frame.bottom,
  });
  const xOf = (panel: number, x: number) => {
    const box = boxOf(panel);
    const steps = across.values.length - 1;
    return steps > 0
      ? box.left + 12 + (x / steps) * (box.right - box.left - 24)
      : (box.left + box.right) / 2;
  };
  const yOf = (panel: number, value: number) => {
    const box = boxOf(panel);
    return box.bottom - ((value - scale.from) / (scale.to - scale.from)) * (box.bottom - box.top);
  };
  const labelAt = new Map(
    (panels?.values ?? [undefined]).flatMap((_, panel) =>
      apart(
        lines
          .filter((one) => one.panel === panel && one.points.length > 0)
          .map(({ y, points }) => ({
            key: `${panel} ${y}`,
            at: yOf(panel, points.at(-1)!.trial.value!),
          })),
      ),
    ),
  );
  const { choice } = detail;
  const room = (panelWidth - frame.left - frame.right) / across.values.length;
  const caption = `${measure.name} out of fold with its standard error over the folds${hasLearned ? ', and dotted with hollow points in those learned from' : ''}, along ${labelOf(fields, across.name)} in the order of its values.${down ? ` A line for each value of ${labelOf(fields, down.name)}.` : ''}${choice ? ' Large: the best; ringed: the simplest as good.' : ''}${rest} Press a point to pick it.`;
  return (
    <SvgFigure
      title={`${measure.name} along ${labelOf(fields, across.name)}`}
      caption={caption}
      controls={controls}
      fileName={`${line.name}-lines`}
      width={width}
      height={height}
      pressable
      numbers={() => [
        [
          ...detail.varied.map((name) => labelOf(fields, name)),
          measure.name,
          'standard error',
          'in those learned from',
        ],
        ...detail.trials.map(({ values, value, error, development }) => [
          ...values.map(String),
          value ?? '',
          error ?? '',
          development ?? '',
        ]),
      ]}
    >
      {(panels?.values ?? [undefined]).map((value, panel) => {
        const box = boxOf(panel);
        return (
          <g key={panel}>
            {panels && (
              <text x={box.left} y={box.top - 10} className={drawing.axisName}>
                {labelOf(fields, panels.name)} {valueText(fields, panels.name, value!)}
              </text>
            )}
            {scale.ticks.map((tick) => (
              <g key={tick}>
                <line
                  x1={box.left}
                  x2={box.right}
                  y1={yOf(panel, tick)}
                  y2={yOf(panel, tick)}
                  className={drawing.rule}
                />
                <text
                  x={box.left - 8}
                  y={yOf(panel, tick) + 4}
                  textAnchor="end"
                  className={drawing.tick}
                >
                  {showDigits(tick, 6)}
                </text>
              </g>
            ))}
            <line
              x1={box.left}
              x2={box.right}
              y1={box.bottom}
              y2={box.bottom}
              className={drawing.axis}
            />
            {across.values.map((one, i) => (
              <text
                key={String(one)}
                x={xOf(panel, i)}
                y={box.bottom + 16}
                textAnchor="middle"
                className={drawing.tick}
              >
                {i % Math.max(1, Math.ceil(44 / room)) === 0
                  ? valueText(fields, across.name, one)
                  : ''}
              </text>
            ))}
            <text x={box.left} y={box.bottom + 36} className={drawing.axisName}>
              {labelOf(fields, across.name)}
            </text>
          </g>
        );
      })}
      {lines.map(({ panel, y, value, points }) => {
        const end = points.at(-1);
        const learned = hasLearned
          ? points.filter(({ trial }) => trial.development !== undefined)
          : [];
        return (
          <g key={`${panel} ${y}`}>
            <path
              d={pathOf(
                learned.map(({ x, trial }) => [xOf(panel, x), yOf(panel, trial.development!)]),
              )}
              className={styles.learned}
              strokeDasharray="1 4"
            />
            <path
              d={pathOf(points.map(({ x, trial }) => [xOf(panel, x), yOf(panel, trial.value!)]))}
              className={styles.line}
              strokeDasharray={dashes[y % dashes.length]}
            />
            {learned.map(({ x, trial }) => (
              <circle
                key={trial.number}
                cx={xOf(panel, x)}
                cy={yOf(panel, trial.development!)}
                r={2.5}
                fill="#ffffff"
                stroke="#4a5361"
              />
            ))}
            {points.map(({ x, trial }) => (
              <Point
                key={trial.number}
                x={xOf(panel, x)}
                y={(figure) => yOf(panel, figure)}
                trial={trial}
                name={`${settingsText(fields, detail.varied, trial.values)}: ${measure.name} ${showTried(measure, trial.value)}`}
                look={
                  trial.number === choice?.best
                    ? 'best'
                    : trial.number === choice?.simplest
                      ? 'simplest'
                      : undefined
                }
                isPicked={trial.number === picked}
                onPick={onPick}
              />
            ))}
            {down && end && (
              <text
                x={xOf(panel, end.x) + 10}
                y={labelAt.get(`${panel} ${y}`)! + 4}
                className={drawing.tick}
              >
                {valueText(fields, down.name, value!)}
              </text>
            )}
          </g>
        );
      })}
    </SvgFigure>
  );
}

function Point({
  x,
  y,
  trial,
  name,
  look,
  isPicked,
  onPick,
}: {
  x: number;
  y: (figure: number) => number;
  trial: TrialShown;
  name: string;
  look?: 'best' | 'simplest';
  isPicked: boolean;
  onPick: (number: number) => void;
}) {
  const { value = 0, error } = trial;
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={name}
      aria-pressed={isPicked}
      className={styles.point}
      onClick={() => onPick(trial.number)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        onPick(trial.number);
      }}
    >
      {error !== undefined && (
        <line x1={x} x2={x} y1={y(value - error)} y2={y(value + error)} className={styles.bar} />
      )}
      {/* Wide enough to be pressed. */}
      <circle cx={x} cy={y(value)} r={9} fill="#ffffff" opacity="0" />
      <circle
        cx={x}
        cy={y(value)}
        r={look === 'best' ? 5 : 3}
        fill={isPicked ? '#5b3fa0' : '#171a21'}
      />
      {look === 'simplest' && (
        <circle cx={x} cy={y(value)} r={7} fill="none" stroke="#171a21" strokeWidth="1.5" />
      )}
    </g>
  );
}

/** Pixels between two labels at least. */
const labelHeight = 13;

/** Places from the top down, moved apart where labels would lie on each other. */
function apart(labels: { key: string; at: number }[]): [string, number][] {
  let before = -Infinity;
  return labels
    .toSorted((a, b) => a.at - b.at)
    .map(({ key, at }) => {
      before = Math.max(at, before + labelHeight);
      return [key, before];
    });
}

const pathOf = (points: number[][]): string =>
  points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${drawn(x)},${drawn(y)}`).join('');

/** From a round number below to one above, with ticks at steps of 1, 2 or 5. */
function roundScale(least: number, most: number): { from: number; to: number; ticks: number[] } {
  if (!(most > least)) return { from: least - 1, to: least + 1, ticks: [least] };
  const rough = (most - least) / 4;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step =
    power * (rough / power <= 1 ? 1 : rough / power <= 2 ? 2 : rough / power <= 5 ? 5 : 10);
  const [from, to] = [Math.floor(least / step) * step, Math.ceil(most / step) * step];
  const count = Math.round((to - from) / step);
  return { from, to, ticks: Array.from({ length: count + 1 }, (_, i) => from + i * step) };
}
