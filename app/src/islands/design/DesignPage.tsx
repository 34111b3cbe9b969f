import { useQuery } from '@tanstack/react-query';
import type { Design } from '@rook-scale/core/design';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import type { Finding, FindingCode } from '@rook-scale/core/survey';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { type CohortInfo, cohortRoutes } from '../../contract/cohorts.ts';
import { designRoutes, type DesignState } from '../../contract/designs.ts';
import type { Overview } from '../../contract/studies.ts';
import { ask } from '../../browser/api.ts';
import { designWords } from '../../browser/format.ts';
import { Button, Notice } from '../../components/index.ts';
import { isLeak, useFindingNotes } from '../findings/index.ts';
import { PageBody, StagePage } from '../frame/index.ts';
import { BalancingForm } from './BalancingForm.tsx';
import { BothSides } from './BothSides.tsx';
import { Costs } from './Costs.tsx';
import { Enough } from './Enough.tsx';
import { FitAgain } from './FitAgain.tsx';
import { Folds } from './Folds.tsx';
import { HeldOut } from './HeldOut.tsx';
import { designNotes } from './notes.ts';
import { LevelCosts } from './LevelCosts.tsx';
import { Outcome } from './Outcome.tsx';
import { Predictors } from './predictors/Predictors.tsx';
import { Preparation } from './preparation/Preparation.tsx';
import { Versions } from './versions/Versions.tsx';
import { useDraft } from './use-draft.ts';
import styles from './Design.module.css';

export default function DesignPage({
  overview,
  cohort,
  query,
}: {
  overview: Overview;
  cohort: CohortInfo | null;
  query: Record<string, string>;
}) {
  return (
    <StagePage stage="design" overview={overview} query={query}>
      <Ready overview={overview} first={cohort} />
    </StagePage>
  );
}

function Ready({ overview, first }: { overview: Overview; first: CohortInfo | null }) {
  const studyId = overview.study.id;
  const { data: cohort } = useQuery({
    queryKey: ['development', studyId],
    queryFn: () => ask(cohortRoutes.development, { study: studyId }),
    initialData: first,
  });
  if (cohort && overview.design)
    return <DesignInForce studyId={studyId} cohort={cohort} first={overview.design} />;
  return <NoPatients studyId={studyId} />;
}

function NoPatients({ studyId }: { studyId: string }) {
  return (
    <PageBody title="Design" fact="what is predicted, from what, and what errors cost">
      <p>
        The design is made on a cohort of patients.{' '}
        <a href={`/studies/${studyId}/records`}>Bring in a file in Records</a> first.
      </p>
    </PageBody>
  );
}

export interface SectionProps {
  cohort: CohortInfo;
  design: Design;
  state: DesignState;
  change: (part: Partial<Design>) => void;
}

interface FormProps {
  studyId: string;
  cohort: CohortInfo;
}

function DesignInForce({ first, ...props }: FormProps & { first: DesignState }) {
  const { studyId } = props;
  const { data: state } = useQuery({
    queryKey: ['design', studyId],
    queryFn: () => ask(designRoutes.inForce, { study: studyId }),
    initialData: first,
  });
  // The patients may have been deleted in another tab.
  return state ? <DesignForm {...props} state={state} /> : <NoPatients studyId={studyId} />;
}

function DesignForm({ studyId, cohort, state }: FormProps & { state: DesignState }) {
  const { design, change, problem, keepMine, takeOther } = useDraft(studyId, state);
  const findings = useFindingNotes(studyId, cohort, concernsDesign);
  const section: SectionProps = { cohort, design, state, change };
  const outcome = cohort.dictionary.find((entry) => entry.name === design.outcome);
  return (
    <PageBody
      title="Design"
      fact={titleFact(design, outcome)}
      studyId={studyId}
      actions={<FitAgain studyId={studyId} ready={state.divisionId !== null} />}
      notes={[...findings.notes, ...designNotes({ state, design, outcome, cohort, change })]}
      checking={findings.checking}
    >
      <div className={styles.page}>
        {problem && (
          <Notice>
            {problem.sentence}{' '}
            {problem.elsewhere ? (
              <>
                <Button look="link" onClick={keepMine}>
                  Keep mine
                </Button>{' '}
                <Button look="link" onClick={takeOther}>
                  Take the other
                </Button>
              </>
            ) : (
              <>
                The change is not saved yet.{' '}
                <Button look="link" onClick={keepMine}>
                  Try again
                </Button>
              </>
            )}
          </Notice>
        )}
        {state.obstacle && <Notice>{state.obstacle}</Notice>}
        <Outcome {...section} />
        <Predictors {...section} studyId={studyId} />
        <div className={styles.pair}>
          <HeldOut {...section} studyId={studyId} />
          <Folds {...section} />
        </div>
        <BothSides {...section} studyId={studyId} />
        <Costs {...section} studyId={studyId} />
        {design.kind === 'levels' && <LevelCosts {...section} />}
        <Preparation {...section} studyId={studyId} />
        <BalancingForm {...section} />
        <Enough {...section} studyId={studyId} />
        <Versions {...section} studyId={studyId} />
      </div>
    </PageBody>
  );
}

function titleFact(design: Design, outcome: DictionaryEntry | undefined): string {
  if (!outcome) return 'choose what is to be predicted';
  const what = designWords(design, outcome.unit);
  return what
    ? `predict: ${display(outcome)}${what}`
    : `${display(outcome)}: ${openWords[design.kind]}`;
}

const openWords: { [K in OutcomeKind]: string } = {
  event: 'choose the event',
  levels: 'choose the levels that are cases',
  number: 'say from which value on a patient is a case',
};

const onDesign = new Set<FindingCode>([
  'identifier-like',
  'constant',
  'near-duplicates',
  'sorted by outcome',
]);

/** Of what was noticed in the patients, what is mended by choosing predictors. */
const concernsDesign = (finding: Finding): boolean => onDesign.has(finding.code) || isLeak(finding);
