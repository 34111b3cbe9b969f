import type { Lane } from '@rook-scale/core/design';
import { display, showDay } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { SidesView } from '../../contract/designs.ts';
import { showCount, showValue } from '../../browser/format.ts';
import styles from './Design.module.css';

const [width, lane, gap, left] = [776, 20, 5, 70];

/** Who is where: a lane a side and fold, along the file or a date, as high as there are patients, filled as far as they are cases. */
export function SpreadFigure({ sides, cohort }: { sides: SidesView; cohort: CohortInfo }) {
  const { lanes, from, to } = sides.spread;
  if (lanes.length > 24) return null;
  const most = Math.max(1, ...lanes.flatMap(({ patients }) => patients));
  const height = lanes.length * (lane + gap);
  const entry = cohort.dictionary.find(({ name }) => name === sides.along);
  const show = (value: number) =>
    entry?.kind === 'date' ? showDay(value) : entry ? showValue(value) : `row ${showCount(value)}`;
  return (
    <figure className={styles.spread}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={lanes.map(laneText).join('; ')}
      >
        {lanes.map((one, i) => (
          <LaneMarks key={i} lane={one} top={i * (lane + gap)} most={most} />
        ))}
      </svg>
      <div className={styles.spreadEnds}>
        <span>{show(from)}</span>
        <span>{show(to)}</span>
      </div>
      <figcaption>
        {sides.along === null
          ? 'From the first row of the file to the last'
          : `Along ${display(entry!)}`}
        : each stretch is as high as it has patients, at most {showCount(most)}, and filled as far
        as they are cases.
      </figcaption>
    </figure>
  );
}

function LaneMarks({ lane: one, top, most }: { lane: Lane; top: number; most: number }) {
  const step = (width - left) / one.patients.length;
  return (
    <g>
      <text x={0} y={top + lane - 3} className={styles.laneName}>
        {laneName(one)}
      </text>
      <line x1={left} x2={width} y1={top + lane} y2={top + lane} className={styles.laneLine} />
      {one.patients.map((patients, i) => {
        if (patients === 0) return null;
        const [all, cases] = [patients, one.events[i]].map((count) => (lane * count) / most);
        const x = left + i * step;
        return (
          <g key={i}>
            <rect
              x={x}
              y={top + lane - all}
              width={step - 1}
              height={all}
              className={styles.barAll}
            />
            <rect
              x={x}
              y={top + lane - cases}
              width={step - 1}
              height={cases}
              className={styles.barCases}
            />
          </g>
        );
      })}
    </g>
  );
}

const sum = (counts: number[]) => counts.reduce((total, count) => total + count, 0);

const laneText = (one: Lane) =>
  `${laneName(one)}: ${showCount(sum(one.patients))} patients, ${showCount(sum(one.events))} cases`;

function laneName({ side, fold }: Lane): string {
  if (side === 'development') return `Fold ${fold! + 1}`;
  return side === 'heldOut' ? 'Held out' : 'Sealed';
}
