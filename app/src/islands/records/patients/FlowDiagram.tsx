import type { DivisionCounts } from '@rook-scale/core/design';
import type { Flow } from '@rook-scale/core/selection';
import { plural, showCount } from '../../../browser/format.ts';
import { SvgFigure } from '../../../components/index.ts';
import styles from './Patients.module.css';

const width = 400;
const box = { width: 180, height: 44 };
const side = { left: 206, width: 193 };
const gap = 62;

interface Props {
  flow: Flow;
  /** Of the file. */
  name: string;
  counts: DivisionCounts | null;
}

/** How the rows of the file became the patients of the study, from top to bottom. */
export function FlowDiagram({ flow, name, counts }: Props) {
  const left = flow.steps.at(-1)?.left ?? flow.came;
  const middle = box.width / 2;
  const bottom = flow.steps.length * gap + box.height + 18;
  const height = bottom + box.height + (counts ? 74 : 8);
  const out = flow.came - left;
  const { stand } = flow;
  return (
    <SvgFigure
      title="Flow of patients"
      caption={
        stand
          ? `${plural(left - stand.unknown, 'row')} of the file stand for ${plural(stand.patients, 'patient')}, by ${stand.by}.${stand.unknown > 0 ? ` In ${plural(stand.unknown, 'row')} it is not known: nobody is counted there.` : ''}`
          : out === 0
            ? `All ${plural(flow.came, 'row')} of the file are patients of the study.`
            : `Of ${plural(flow.came, 'row')} in the file ${showCount(out)} are taken out and ${plural(left, 'patient')} remain.`
      }
      numbers={() => [
        ['step', 'out', 'left'],
        ['in the file', 0, flow.came],
        ...flow.steps.map((step) => [step.why, step.out, step.left]),
        ...(stand ? [[`patients, by ${stand.by}`, stand.unknown, stand.patients]] : []),
      ]}
      fileName="flow-of-patients"
      width={width}
      height={height}
    >
      <Box x={0} y={1} big={showCount(flow.came)} small={`rows in ${shorten(name, 19)}`} />
      {flow.steps.map((step, i) => {
        const y = box.height + i * gap + gap / 2;
        return (
          <g key={i}>
            <line x1={middle} x2={side.left} y1={y} y2={y} className={styles.line} />
            <rect x={side.left} y={y - 20} width={side.width} height={40} className={styles.box} />
            <text x={side.left + 10} y={y - 3} className={styles.small}>
              {shorten(step.why, 31)}
            </text>
            <text x={side.left + 10} y={y + 13} className={styles.figure}>
              {step.out === 0 ? 'none' : `−${showCount(step.out)}`}
            </text>
            <title>{step.why}</title>
          </g>
        );
      })}
      <line x1={middle} x2={middle} y1={box.height} y2={bottom} className={styles.line} />
      <Box
        x={0}
        y={bottom}
        big={showCount(stand?.patients ?? left)}
        small="patients of the study"
      />
      {branchesOf(counts).map((text, i) => (
        <Branch
          key={text}
          x={i === 0 ? 0 : 28 + 102 * i}
          y={bottom + box.height}
          text={text}
          from={middle}
        />
      ))}
    </SvgFigure>
  );
}

/** Where the patients go, each part in a few words; parts without anybody are left out. */
function branchesOf(counts: Props['counts']): string[] {
  if (!counts) return [];
  const { development, heldOut, sealed, unused, unplaced = 0 } = counts;
  const parts: [number, string][] = [
    [development.patients, 'development'],
    [heldOut.patients, 'held out'],
    [sealed?.patients ?? 0, 'sealed'],
    [unused, 'not known'],
    [unplaced, 'not placed'],
  ];
  return parts.flatMap(([patients, name]) =>
    patients > 0 ? [`${showCount(patients)} ${name}`] : [],
  );
}

function Box({ x, y, big, small }: { x: number; y: number; big: string; small: string }) {
  return (
    <g>
      <rect x={x + 0.5} y={y} width={box.width} height={box.height} className={styles.box} />
      <text x={x + 12} y={y + 19} className={styles.big}>
        {big}
      </text>
      <text x={x + 12} y={y + 35} className={styles.small}>
        {small}
      </text>
    </g>
  );
}

function Branch({ x, y, text, from }: { x: number; y: number; text: string; from: number }) {
  return (
    <g>
      <path d={`M${from},${y}v14H${x + 60}v14`} className={styles.line} fill="none" />
      <text x={x} y={y + 44} className={styles.small}>
        {text}
      </text>
    </g>
  );
}

function shorten(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
