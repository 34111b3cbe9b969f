import { useId } from 'react';
import type { TreeShown } from '@rook-scale/core/families';
import { plural } from '../../../browser/format.ts';
import { showDigits } from '../../../browser/numbers.ts';
import { Button } from '../../../components/index.ts';
import styles from './Tree.module.css';

interface Props {
  tree: TreeShown;
  /** Place in the sequence of the size that is shown; -1 for all that was grown. */
  size: number;
  /** Leaves of the tree that is shown. */
  leaves: number;
  onSize: (size: number) => void;
  /** Fits the tree with so many leaves as another candidate. */
  onFit: (leaves: number) => void;
}

const width = 720;
const height = 92;
const margin = { left: 44, right: 12, top: 10, bottom: 22 };

/** The sizes of the pruning sequence with their error in inner folds; moving the marker prunes. */
export function SizeRuler({ tree, size, leaves, onSize, onFit }: Props) {
  const id = useId();
  const { sizes, chosen, first, best, simplest } = tree;
  const lossName = lossWords[tree.loss];
  const at = Math.max(size, 0);
  const { estimate, standardError, loss } = sizes[at];
  const shown = sizes.map((one, place) => ({ ...one, place })).slice(Math.max(first, 0));
  const most = Math.max(...shown.map((one) => one.leaves));
  const scale = placer(shown);
  const x = (count: number) =>
    margin.left +
    (Math.log(count) / Math.log(Math.max(2, most))) * (width - margin.left - margin.right);
  const isTried = estimate !== undefined;
  const said = isTried
    ? `${plural(leaves, 'leaf', 'leaves')}: ${lossName} ${short(estimate)} ± ${short(standardError!)} in inner folds, ${short(loss)} in the patients it was grown on`
    : `${plural(leaves, 'leaf', 'leaves')}: ${lossName} ${short(loss)} in the patients it was grown on`;
  return (
    <div className={styles.sizes}>
      <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={said}>
        <text x={0} y={margin.top + 4} className={styles.tick}>
          {short(scale.most)}
        </text>
        <text x={0} y={height - margin.bottom} className={styles.tick}>
          {short(scale.least)}
        </text>
        <line
          x1={margin.left}
          x2={width - margin.right}
          y1={height - margin.bottom + 4}
          y2={height - margin.bottom + 4}
          className={styles.axis}
        />
        {shown.map((one) => (
          <g key={one.place}>
            {one.estimate !== undefined && (
              <>
                <line
                  x1={x(one.leaves)}
                  x2={x(one.leaves)}
                  y1={scale.y(one.estimate - one.standardError!)}
                  y2={scale.y(one.estimate + one.standardError!)}
                  className={styles.error}
                />
                <circle
                  cx={x(one.leaves)}
                  cy={scale.y(one.estimate)}
                  r={one.place === chosen ? 4 : 2.5}
                  className={styles.estimate}
                />
              </>
            )}
            <circle cx={x(one.leaves)} cy={scale.y(one.loss)} r={2} className={styles.grown} />
          </g>
        ))}
        {ticksOf(most).map((count) => (
          <text key={count} x={x(count)} y={height - 4} textAnchor="middle" className={styles.tick}>
            {count}
          </text>
        ))}
        <line
          x1={x(sizes[at].leaves)}
          x2={x(sizes[at].leaves)}
          y1={margin.top - 6}
          y2={height - margin.bottom + 4}
          className={styles.marker}
        />
      </svg>
      <div className={styles.sizeRow}>
        <label htmlFor={id}>Leaves</label>
        <input
          id={id}
          type="range"
          // To the right there are more leaves.
          min={0}
          max={sizes.length - 1 - Math.max(first, 0)}
          value={sizes.length - 1 - at}
          aria-valuetext={said}
          onChange={({ target }) => onSize(sizes.length - 1 - Number(target.value))}
        />
        <span className="figures">{leaves}</span>
        {isTried && (
          <>
            <Button look="link" onClick={() => onSize(best)} disabled={at === best}>
              best: {sizes[best].leaves}
            </Button>
            <Button look="link" onClick={() => onSize(simplest)} disabled={at === simplest}>
              simplest as good: {sizes[simplest].leaves}
            </Button>
          </>
        )}
        {size !== chosen && (
          <>
            <Button look="link" onClick={() => onSize(chosen)}>
              back to the fitted one
            </Button>
            <Button onClick={() => onFit(leaves)}>
              Fit {plural(leaves, 'leaf', 'leaves')} as a candidate
            </Button>
          </>
        )}
      </div>
      <p className="quiet">
        {said}.
        {isTried &&
          ' Filled: inner folds, with one standard error; rings: the patients it was grown on.'}
      </p>
    </div>
  );
}

const lossWords: Record<TreeShown['loss'], string> = {
  'Brier score': 'Brier score',
  'error cost': 'cost a patient',
  'squared error': 'mean squared error',
};

/** Where losses stand, with their standard errors, from the least to the greatest. */
function placer(shown: TreeShown['sizes']) {
  const ends = shown.flatMap(({ estimate, standardError = 0, loss }) =>
    estimate === undefined ? [loss] : [loss, estimate - standardError, estimate + standardError],
  );
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const y = (value: number) =>
    height -
    margin.bottom -
    ((value - least) / Math.max(most - least, 1e-12)) * (height - margin.top - margin.bottom);
  return { least, most, y };
}

const ticksOf = (most: number): number[] =>
  [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].filter((count) => count <= most);

const short = (value: number): string => showDigits(value, 3);
