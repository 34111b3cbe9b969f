import { useId, useMemo, type KeyboardEvent, type MouseEvent, type ReactNode } from 'react';
import type { TrialShown } from '../../contract/searches.ts';
import { SvgFigure } from '../../components/index.ts';
import { placesOf, type Sides } from './slices.ts';
import type { FigureProps } from './TriedFigure.tsx';
import { fieldsOfSearch, labelOf, settingsText, showTried, valueText } from './words.ts';
import drawing from '../../components/drawing.module.css';
import styles from './Search.module.css';

export interface DrawingProps extends FigureProps {
  sides: Sides;
  controls: ReactNode;
  /** What is said of settings that are not sides of the drawing. */
  rest: string;
  /** Lines: what was found in those learned from is drawn too. */
  withLearned: boolean;
}

const width = 780;
const left = 96;
const cellHeight = 26;
/** Narrower cells have no figure. */
const roomForText = 44;
const shades = 7;

/** Above the cells: the name of the setting that runs down, and of each panel. */
const heading = 22;

/** A cell for each pair of values, shaded by the measure. */
export function TriedMap(props: DrawingProps) {
  const { line, detail, measure, picked, onPick, sides, controls, rest } = props;
  const fields = fieldsOfSearch(line);
  const hatch = useId();
  const { across, panels } = sides;
  const down = sides.down!;
  const at = useMemo(() => placesOf(detail, sides, measure), [detail, sides, measure]);
  const count = panels?.values.length ?? 1;
  const inRow = Math.min(count, Math.max(1, Math.floor(12 / across.values.length) || 1));
  const panelWidth = (width - left) / inRow;
  const cellWidth = Math.min(110, (panelWidth - 16) / across.values.length);
  const panelHeight = heading + down.values.length * cellHeight + 30;
  const rows = Math.ceil(count / inRow);
  const height = rows * panelHeight + 22;
  const known = detail.trials.flatMap(({ value }) => value ?? []);
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const shadeOf = (value: number) => {
    const share = most > least ? (value - least) / (most - least) : 1;
    return Math.round((measure.better === 'higher' ? share : 1 - share) * (shades - 1));
  };
  const { choice } = detail;
  const asGood = new Set(choice?.asGood);
  const cells = (panels?.values ?? [undefined]).flatMap((_, panel) =>
    down.values.flatMap((__, y) =>
      across.values.map((___, x) => ({ panel, x, y, trial: at({ across: x, down: y, panel }) })),
    ),
  );
  const placeOf = (panel: number) => ({
    x: left + (panel % inRow) * panelWidth,
    y: Math.floor(panel / inRow) * panelHeight + heading,
  });
  // One of thousands is reached by Tab, the others from there by arrow keys.
  const reached = picked ?? choice?.best ?? cells.find(({ trial }) => trial)?.trial?.number;
  const press = (event: MouseEvent<SVGGElement> | KeyboardEvent<SVGGElement>) => {
    const cell = (event.target as Element).closest<SVGGElement>('[data-trial]');
    if (!cell) return;
    if ('key' in event) {
      const next = besideCell(event.currentTarget, cell, event.key);
      if (next) next.focus();
      else if (event.key !== 'Enter' && event.key !== ' ') return;
      event.preventDefault();
      if (next) return;
    }
    onPick(Number(cell.dataset.trial));
  };
  const nameOf = (trial: TrialShown) =>
    `${settingsText(fields, detail.varied, trial.values)}: ${measure.name} ${showTried(measure, trial.value)}`;
  return (
    <SvgFigure
      title={`${measure.name} by ${labelOf(fields, across.name)} and ${labelOf(fields, down.name)}`}
      caption={`${measure.name} out of fold${known.length > 0 ? `, ${showTried(measure, least)} to ${showTried(measure, most)}` : ''}, the better the darker. Hatched: within one standard error of the best; framed: the best, and dashed the simplest as good.${rest} Press a cell to pick it.`}
      controls={controls}
      fileName={`${line.name}-map`}
      width={width}
      height={height}
      pressable
      numbers={() => [
        [...detail.varied.map((name) => labelOf(fields, name)), measure.name, 'standard error'],
        ...detail.trials.map(({ values, value, error }) => [
          ...values.map(String),
          value ?? '',
          error ?? '',
        ]),
      ]}
    >
      <defs>
        <pattern id={hatch} width="6" height="6" patternUnits="userSpaceOnUse">
          <path d="M0,6 L6,0" stroke="#171a21" strokeWidth="0.7" opacity="0.5" />
        </pattern>
      </defs>
      {(panels?.values ?? [undefined]).map((value, panel) => {
        const { x, y } = placeOf(panel);
        return (
          <g key={panel}>
            {panels && (
              <text x={x} y={y - 7} className={drawing.axisName}>
                {labelOf(fields, panels.name)} {valueText(fields, panels.name, value!)}
              </text>
            )}
            {panel % inRow === 0 &&
              down.values.map((one, i) => (
                <text
                  key={String(one)}
                  x={left - 8}
                  y={y + (i + 0.5) * cellHeight + 4}
                  textAnchor="end"
                  className={drawing.tick}
                >
                  {cut(valueText(fields, down.name, one))}
                </text>
              ))}
            {across.values.map((one, i) => (
              <text
                key={String(one)}
                x={x + (i + 0.5) * cellWidth}
                y={y + down.values.length * cellHeight + 15}
                textAnchor="middle"
                className={drawing.tick}
              >
                {isTold(i, across.values.length, cellWidth)
                  ? cut(valueText(fields, across.name, one))
                  : ''}
              </text>
            ))}
          </g>
        );
      })}
      <g onClick={press} onKeyDown={press}>
        {cells.map(({ panel, x, y, trial }) => {
          const place = placeOf(panel);
          const box = {
            x: place.x + x * cellWidth + 0.5,
            y: place.y + y * cellHeight + 0.5,
            width: cellWidth - 1,
            height: cellHeight - 1,
          };
          const key = `${panel} ${x} ${y}`;
          if (!trial) return <rect key={key} {...box} fill="none" stroke="#d5d9de" />;
          const isChosen = trial.number === choice?.best || trial.number === choice?.simplest;
          return (
            <g
              key={key}
              role="button"
              tabIndex={trial.number === reached ? 0 : -1}
              aria-label={nameOf(trial)}
              aria-pressed={trial.number === picked}
              className={styles.cell}
              data-trial={trial.number}
              data-place={key}
            >
              <rect {...box} fill={tints[shadeOf(trial.value!)]} />
              {asGood.has(trial.number) && <rect {...box} fill={`url(#${hatch})`} />}
              {cellWidth >= roomForText && (
                <text
                  x={box.x + box.width / 2}
                  y={box.y + box.height / 2 + 4}
                  className={styles.cellText}
                >
                  {showTried(measure, trial.value)}
                </text>
              )}
              {(isChosen || trial.number === picked) && (
                <rect
                  {...box}
                  fill="none"
                  stroke={trial.number === picked ? '#5b3fa0' : '#171a21'}
                  strokeWidth="2"
                  strokeDasharray={
                    trial.number !== choice?.best && trial.number !== picked ? '4 3' : undefined
                  }
                />
              )}
            </g>
          );
        })}
      </g>
      <text x={left} y={height - 4} className={drawing.axisName}>
        {labelOf(fields, across.name)}
      </text>
      <text x={0} y={12} className={drawing.axisName}>
        {cut(labelOf(fields, down.name), 15)}
      </text>
    </SvgFigure>
  );
}

/** The cell that an arrow key leads to: the next in its direction that was tried. */
function besideCell(all: Element, cell: SVGGElement, key: string): SVGGElement | undefined {
  const step = arrows[key];
  if (!step) return undefined;
  const [panel, x, y] = cell.dataset.place!.split(' ').map(Number);
  for (let far = 1; far <= 500; far++) {
    const place = `${panel} ${x + far * step[0]} ${y + far * step[1]}`;
    const found = all.querySelector<SVGGElement>(`[data-place="${place}"]`);
    if (found) return found;
  }
  return cell;
}

const arrows: Record<string, [number, number] | undefined> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** White to steel, each light enough for a figure in ink on it. */
const tints = ['#ffffff', '#f0f4f8', '#e0e9f1', '#cfdde9', '#bed1e2', '#adc5da', '#9bb9d3'];

const cut = (text: string, most = 12) =>
  text.length > most ? `${text.slice(0, most - 1)}…` : text;

/** Every value where there is room, else each so many. */
const isTold = (i: number, count: number, room: number) =>
  i % Math.max(1, Math.ceil(34 / room)) === 0 || (i === count - 1 && room > 17);
