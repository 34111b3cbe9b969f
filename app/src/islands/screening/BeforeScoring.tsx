import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { get, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { Button, Notice } from '../../components/index.ts';
import type { CandidateLine } from '../../server/candidates.ts';
import type { CohortInfo } from '../../server/cohorts/index.ts';
import type { CohortCheck } from '../../server/screenings.ts';
import { PageBody } from '../frame/index.ts';
import { ColumnsCompared } from './ColumnsCompared.tsx';
import { comparisonNotes } from './notes.ts';
import styles from './Screening.module.css';

export interface ScreeningFrame {
  title: string;
  fact: string;
  actions: ReactNode;
  picker: ReactNode;
}

interface Props {
  frame: ScreeningFrame;
  cohort: CohortInfo;
  line: CandidateLine;
  studyId: string;
  onScore: () => Promise<void>;
}

/** How the list meets the model, before anyone is scored. */
export function BeforeScoring({ frame, cohort, line, studyId, onScore }: Props) {
  const { data: check, error } = useQuery({
    queryKey: ['check', cohort.id, line.id, line.fittedAt],
    queryFn: () =>
      get<CohortCheck>(
        `/api/studies/${studyId}/screenings?cohort=${cohort.id}&candidate=${line.id}`,
      ),
  });
  const [scoring, setScoring] = useState(false);
  const [problem, setProblem] = useState<string>();
  const score = () => {
    setScoring(true);
    setProblem(undefined);
    onScore()
      .catch((error: unknown) => setProblem(messageOf(error)))
      .finally(() => setScoring(false));
  };
  return (
    <PageBody
      title={frame.title}
      fact={frame.fact}
      actions={frame.actions}
      studyId={studyId}
      notes={check ? comparisonNotes(check, cohort.id) : []}
    >
      {frame.picker}
      {(problem ?? error) && <Notice>{problem ?? error?.message}</Notice>}
      <div className={styles.scoreLine}>
        <Button look="main" disabled={scoring || !check} onClick={score}>
          {scoring ? 'Scoring' : `Score ${plural(cohort.rowCount, 'patient')}`}
        </Button>
        <p className="quiet">Nobody is scored yet. This is how the list meets the model.</p>
      </div>
      {check && <ColumnsCompared check={check} />}
    </PageBody>
  );
}
