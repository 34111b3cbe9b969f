import type { Curves } from '@rook-scale/core/comparing';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { showCount } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import { CalibrationFigure } from './CalibrationFigure.tsx';
import { CurveFigure } from './CurveFigure.tsx';
import { DensityFigure } from './DensityFigure.tsx';
import type { DrawnCurves } from './drawn-curves.ts';
import styles from './Compared.module.css';

/** The curves of several candidates, on one chart each. */
export function ComparedFigures({
  all,
  kind,
  whose,
}: {
  all: DrawnCurves[];
  kind: OutcomeKind;
  whose: 'out of fold' | 'held out';
}) {
  const score = kind === 'number' ? 'predicted number, cases to the right' : 'cutoff';
  const { share } = all[0].curves;
  const figureOf = (of: (curves: Curves) => number | undefined) =>
    all.map(({ letter, curves }) => `${letter} ${showFixed(of(curves), 3)}`).join(', ');
  const hasCosts = all.every(({ curves }) => curves.leastCost !== undefined);
  return (
    <div className={styles.figures}>
      <CurveFigure
        all={all}
        of="roc"
        title="ROC"
        caption={`Cases found against others called in, ${whose}. AUC${whose === 'out of fold' ? ' of all folds together' : ''}: ${figureOf(({ area }) => area?.value)}.`}
        across={{ name: '1 − specificity', from: 0, to: 1 }}
        up={{ name: 'sensitivity', from: 0, to: 1 }}
        rule={[
          [0, 0],
          [1, 1],
        ]}
      />
      <CurveFigure
        all={all}
        of="precision"
        title="Precision and recall"
        caption={`Share of cases among those called in, against cases found. Average precision: ${figureOf(({ averagePrecision }) => averagePrecision)}; without knowledge ${showFixed(share, 3)}.`}
        across={{ name: 'sensitivity', from: 0, to: 1 }}
        up={{ name: 'precision', from: 0, to: 1 }}
        rule={[
          [0, share],
          [1, share],
        ]}
      />
      {hasCosts && (
        <CurveFigure
          all={all}
          of="cost"
          title="Cost curve"
          caption={`Cost of the errors per 1,000 patients at every cutoff. Least: ${all
            .map(({ letter, curves }) => `${letter} ${showCount(Math.round(curves.leastCost!))}`)
            .join(', ')}.`}
          across={kind === 'number' ? { name: score } : { name: score, from: 0, to: 1 }}
          up={{ name: 'cost per 1,000', from: 0 }}
        />
      )}
      {all.every(({ curves }) => curves.calibration) && <CalibrationFigure all={all} />}
      <DensityFigure all={all} whose={whose} />
    </div>
  );
}
