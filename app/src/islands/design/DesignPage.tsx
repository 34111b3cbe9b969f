import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Design } from '@rook-scale/core/design';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { get, messageOf, request } from '../../browser/api.ts';
import { Notice } from '../../components/index.ts';
import type { CohortInfo } from '../../server/cohorts.ts';
import type { DesignState } from '../../server/design-state.ts';
import type { Overview } from '../../server/studies.ts';
import { PageBody, StagePage } from '../frame/index.ts';
import { Costs } from './Costs.tsx';
import { HeldOut } from './HeldOut.tsx';
import { designNotes } from './notes.ts';
import { Outcome } from './Outcome.tsx';
import { Predictors } from './Predictors.tsx';
import { PreparationTable } from './PreparationTable.tsx';
import styles from './Design.module.css';

export default function DesignPage({
  overview,
  cohort,
}: {
  overview: Overview;
  cohort: CohortInfo | null;
}) {
  return (
    <StagePage stage="design" overview={overview}>
      {cohort && overview.design ? (
        <DesignForm studyId={overview.study.id} cohort={cohort} first={overview.design} />
      ) : (
        <PageBody title="Design" fact="what is predicted, from what, and what errors cost">
          <p>
            The design is made on a cohort of patients.{' '}
            <a href={`/studies/${overview.study.id}/records`}>Bring in a file in Records</a> first.
          </p>
        </PageBody>
      )}
    </StagePage>
  );
}

export interface SectionProps {
  cohort: CohortInfo;
  design: Design;
  state: DesignState;
  change: (part: Partial<Design>) => void;
}

function DesignForm({
  studyId,
  cohort,
  first,
}: {
  studyId: string;
  cohort: CohortInfo;
  first: DesignState;
}) {
  const client = useQueryClient();
  const key = ['design', studyId];
  const { data: state } = useQuery({
    queryKey: key,
    queryFn: () => get<DesignState>(`/api/studies/${studyId}/design`),
    initialData: first,
  });
  const [draft, setDraft] = useState<Design>();
  const [problem, setProblem] = useState<string>();
  const saving = useSaver(async (design: Design) => {
    try {
      const saved = await request<DesignState>('PUT', `/api/studies/${studyId}/design`, design);
      client.setQueryData(key, saved);
      setProblem(undefined);
      setDraft(undefined);
      void client.invalidateQueries({ queryKey: ['preparation', studyId] });
    } catch (error) {
      setProblem(messageOf(error));
    }
  });
  const design = draft ?? state.choices;
  const change = (part: Partial<Design>) => {
    const next = { ...design, ...part };
    setDraft(next);
    saving(next);
  };
  const section: SectionProps = { cohort, design, state, change };
  const outcome = cohort.dictionary.find((entry) => entry.name === design.outcome);
  return (
    <PageBody
      title="Design"
      fact={titleFact(design, outcome)}
      notes={designNotes(state, design, outcome)}
    >
      <div className={styles.page}>
        {problem && (
          <Notice>{problem} The change is not saved yet; alter anything to try again.</Notice>
        )}
        {state.obstacle && <Notice>{state.obstacle}</Notice>}
        <Outcome {...section} />
        <Predictors {...section} />
        <div className={styles.pair}>
          <HeldOut {...section} />
          <Costs {...section} />
        </div>
        <PreparationTable
          studyId={studyId}
          cohort={cohort}
          divided={state.divisionId !== null}
          fitKey={state.fitKey}
        />
      </div>
    </PageBody>
  );
}

function titleFact(design: Design, outcome: DictionaryEntry | undefined): string {
  if (!outcome) return 'choose what is to be predicted';
  return design.event
    ? `predict: ${display(outcome)} = ${design.event}`
    : `${display(outcome)}: choose the event`;
}

/** Saves one after another, and of several changes waiting only the last. */
function useSaver(save: (design: Design) => Promise<void>) {
  const latest = useRef(save);
  const busy = useRef(false);
  const waiting = useRef<Design>(undefined);
  useEffect(() => {
    latest.current = save;
  });
  const run = async (design: Design) => {
    if (busy.current) {
      waiting.current = design;
      return;
    }
    busy.current = true;
    await latest.current(design);
    busy.current = false;
    const next = waiting.current;
    waiting.current = undefined;
    if (next) await run(next);
  };
  return (design: Design) => void run(design);
}
