import type { PointerEvent } from 'react';
import type { PathShown } from '@rook-scale/core/families';
import { drawn } from '../../../components/drawn.ts';
import { short } from '../ensemble/words.ts';
import { namesAtEnds, scaleOf, strengthTicks, type Way } from './path-shape.ts';
import styles from './Path.module.css';

interface Props {
  path: PathShown;
  ways: Way[];
  /** Place of the strength that is shown. */
  place: number;
  onPlace: (place: number) => void;
  nameOf: (input: string) => string;
}

export const waysWidth = 760;
export const waysHeight = 396;
const left = 52;
const right = 168;
const tops = { ways: 14, loss: 262 };
const bottoms = { ways: 240, loss: 356 };
const textHeight = 13;
const nameLength = 24;

/** Coefficients from strong to weak, and below them on the same ruler the loss in inner folds. */
export function Ways({ path, ways, place, onPlace, nameOf }: Props) {
  const { strengths, tried } = path;
  const end = waysWidth - right;
  const [most, least] = [strengths[0], strengths[strengths.length - 1]];
  const x = (strength: number) =>
    left + (Math.log(most / strength) / Math.max(Math.log(most / least), 1e-12)) * (end - left);
  const scale = scaleOf(ways.flatMap(({ perSd }) => perSd));
  const y = (value: number) => between(value, scale, tops.ways, bottoms.ways);
  // Far from the least nothing is to be told: what is twice as far as no predictor at all is cut off.
  const highest = Math.max(path.plain, ...tried.mean.map((mean, i) => mean + tried.error[i]));
  const losses = {
    from: Math.min(...tried.mean.map((mean, i) => mean - tried.error[i])),
    to: Math.min(highest, 2 * path.plain),
  };
  const lossY = (value: number) =>
    Math.max(tops.loss - 4, between(value, losses, tops.loss, bottoms.loss));
  const line = (values: number[], to: (value: number) => number) =>
    values
      .map((value, i) => `${i === 0 ? 'M' : 'L'}${drawn(x(strengths[i]))} ${drawn(to(value))}`)
      .join('');
  const band = `${line(
    tried.mean.map((mean, i) => mean + tried.error[i]),
    lossY,
  )}${tried.mean
    .map((mean, i) => `L${drawn(x(strengths[i]))} ${drawn(lossY(mean - tried.error[i]))}`)
    .reverse()
    .join('')}Z`;
  const pick = ({ currentTarget, clientX, buttons, type }: PointerEvent<SVGRectElement>) => {
    if (type === 'pointermove' && buttons === 0) return;
    const box = currentTarget.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (clientX - box.left) / box.width));
    const wanted = most * (least / most) ** share;
    const away = strengths.map((strength) => Math.abs(Math.log(strength / wanted)));
    onPlace(away.indexOf(Math.min(...away)));
  };
  const names = namesAtEnds(ways, y, textHeight);
  return (
    <>
      <line x1={left} x2={end} y1={y(0)} y2={y(0)} className={styles.none} />
      {[scale.from, scale.to].map((value) => (
        <text key={value} x={0} y={y(value) + (value > 0 ? 8 : 0)} className={styles.tick}>
          {short(value)}
        </text>
      ))}
      {ways.map(({ input, perSd }) => (
        <path
          key={input}
          d={line(perSd, y)}
          className={perSd[place] === 0 ? styles.out : styles.way}
        >
          <title>{nameOf(input)}</title>
        </path>
      ))}
      {names.map(({ input, y: at }) => (
        <text key={input} x={end + 8} y={at + 4} className={styles.name}>
          {cut(nameOf(input))}
        </text>
      ))}
      <path d={band} className={styles.band} />
      <path d={line(tried.mean, lossY)} className={styles.loss} />
      <line
        x1={left}
        x2={end}
        y1={lossY(path.plain)}
        y2={lossY(path.plain)}
        className={styles.plain}
      />
      <text x={end + 8} y={lossY(path.plain) + 4} className={styles.tick}>
        no predictor
      </text>
      {[losses.from, losses.to].map((value, i) => (
        <text key={i} x={0} y={lossY(value) + (i === 1 ? 8 : 0)} className={styles.tick}>
          {short(value)}
        </text>
      ))}
      <line
        x1={left}
        x2={end}
        y1={bottoms.loss + 6}
        y2={bottoms.loss + 6}
        className={styles.axis}
      />
      {strengthTicks(strengths).map((tick) => (
        <text
          key={tick}
          x={x(tick)}
          y={bottoms.loss + 20}
          textAnchor="middle"
          className={styles.tick}
        >
          {short(tick)}
        </text>
      ))}
      <text x={end} y={waysHeight - 4} textAnchor="end" className={styles.tick}>
        strength: strong to weak
      </text>
      <Battlement x={x(strengths[tried.simplest])} words="simplest as good" before />
      {tried.best !== tried.simplest && <Battlement x={x(strengths[tried.best])} words="best" />}
      <line
        x1={x(strengths[place])}
        x2={x(strengths[place])}
        y1={tops.ways - 8}
        y2={bottoms.loss + 6}
        className={styles.marker}
      />
      <rect
        x={left}
        y={0}
        width={end - left}
        height={bottoms.loss + 6}
        className={styles.catch}
        onPointerDown={pick}
        onPointerMove={pick}
      />
    </>
  );
}

/** Three merlons on a wall, and what stands there. */
function Battlement({ x, words, before }: { x: number; words: string; before?: boolean }) {
  return (
    <g className={styles.battlement}>
      <path d={`M${x - 6} ${bottoms.ways + 12}v-9h3v3h1.5v-3h3v3h1.5v-3h3v9z`} />
      <text
        x={before ? x - 10 : x + 10}
        y={bottoms.ways + 12}
        textAnchor={before ? 'end' : 'start'}
        className={styles.name}
      >
        {words}
      </text>
    </g>
  );
}

const between = (
  value: number,
  { from, to }: { from: number; to: number },
  top: number,
  bottom: number,
) => bottom - ((value - from) / Math.max(to - from, 1e-12)) * (bottom - top);

const cut = (name: string) =>
  name.length > nameLength ? `${name.slice(0, nameLength - 1)}…` : name;
