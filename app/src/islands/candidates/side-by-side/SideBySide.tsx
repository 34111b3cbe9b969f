import { useQueries } from '@tanstack/react-query';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { ask, messageOf } from '../../../browser/api.ts';
import { candidateRoutes } from '../../../contract/candidates.ts';
import { Button, Notice } from '../../../components/index.ts';
import { ComparedFigures, drawnFrom } from '../../compared/index.ts';
import { figureKey } from '../comparison/index.ts';
import { Differences } from './Differences.tsx';
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
  const curves = drawnFrom(
    lines,
    answers.map(({ data }) => data),
  );
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
      {curves.length === lines.length && (
        <ComparedFigures all={curves} kind={kind} whose="out of fold" />
      )}
      <WhoDiffers {...{ studyId, lines, letters }} />
    </section>
  );
}
