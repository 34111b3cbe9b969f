import { useQueries } from '@tanstack/react-query';
import type { Curves } from '@rook-scale/core/comparing';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { ask, messageOf } from '../../../browser/api.ts';
import { showCount } from '../../../browser/format.ts';
import { candidateRoutes } from '../../../contract/candidates.ts';
import { Button, marksOfLevels, Notice } from '../../../components/index.ts';
import { figureKey } from '../comparison/index.ts';
import { CalibrationFigure } from './CalibrationFigure.tsx';
import { CurveFigure } from './CurveFigure.tsx';
import { DensityFigure } from './DensityFigure.tsx';
import { Differences } from './Differences.tsx';
import { dashOf, type DrawnCurves } from './drawn-curves.ts';
import type { Drawn } from './use-drawn.ts';
import { WhoDiffers } from './WhoDiffers.tsx';
import styles from './SideBySide.module.css';

/** Two or more candidates on the same patients: their differences to the first, and their curves on one chart each. */
export function SideBySide({
  studyId,
  drawn,
  kind,
  onBlend,
}: {
  studyId: string;
  drawn: Drawn;
  kind: OutcomeKind;
  /** Absent where one of them cannot be a part of a blend. */
  onBlend?: () => void;
}) {
  const { lines, letters } = drawn;
  const answers = useQueries({
    queries: lines.map((line) => ({
      queryKey: ['curves', ...figureKey(line)],
      queryFn: () => ask(candidateRoutes.curves, { candidate: line.id }),
      staleTime: Infinity,
    })),
  });
  if (lines.length < 2) return null;
  const failed = answers.find(({ error }) => error);
  const marks = marksOfLevels([...letters.values()], false);
  const curves = lines.flatMap((line, i): DrawnCurves[] => {
    const { data } = answers[i];
    if (!data) return [];
    const { colour } = marks[i];
    return [{ line, letter: letters.get(line.id)!, colour, dash: dashOf(i), curves: data }];
  });
  return (
    <section className={styles.section} aria-label="Candidates side by side">
      <Differences lines={lines} letters={letters} />
      {onBlend && (
        <p className={styles.acts}>
          <Button look="link" onClick={onBlend}>
            Blend these {lines.length}
          </Button>
        </p>
      )}
      {failed && <Notice>{messageOf(failed.error)}</Notice>}
      {curves.length < lines.length && !failed && <p role="status">Drawing curves</p>}
      {curves.length === lines.length && <Figures all={curves} kind={kind} />}
      <WhoDiffers {...{ studyId, lines, letters }} />
    </section>
  );
}

function Figures({ all, kind }: { all: DrawnCurves[]; kind: OutcomeKind }) {
  const score = kind === 'number' ? 'predicted number, cases to the right' : 'cutoff';
  const { share } = all[0].curves;
  const figureOf = (of: (curves: Curves) => number | undefined) =>
    all.map(({ letter, curves }) => `${letter} ${of(curves)?.toFixed(3) ?? '–'}`).join(', ');
  const hasCosts = all.every(({ curves }) => curves.leastCost !== undefined);
  return (
    <div className={styles.figures}>
      <CurveFigure
        all={all}
        of="roc"
        title="ROC"
        caption={`Cases found against others called in, out of fold. AUC of all folds together: ${figureOf(({ area }) => area?.value)}.`}
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
        caption={`Share of cases among those called in, against cases found. Average precision: ${figureOf(({ averagePrecision }) => averagePrecision)}; without knowledge ${share.toFixed(3)}.`}
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
      <DensityFigure all={all} />
    </div>
  );
}
