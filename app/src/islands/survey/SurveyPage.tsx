import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { type CohortInfo, cohortRoutes } from '../../contract/cohorts.ts';
import type { Overview } from '../../contract/studies.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { useFindingNotes } from '../findings/index.ts';
import { PageBody, StagePage, useOverview } from '../frame/index.ts';
import { SurveyContext, type Survey } from './context.ts';
import { HeldOutSwitch } from './HeldOutSwitch.tsx';
import styles from './Survey.module.css';
import { views } from './views.ts';

interface Props {
  overview: Overview;
  cohort: CohortInfo | null;
  query: Record<string, string>;
}

export default function SurveyPage({ overview, cohort, query }: Props) {
  return (
    <StagePage stage="survey" overview={overview} query={query}>
      <Page studyId={overview.study.id} first={cohort} />
    </StagePage>
  );
}

function Page({ studyId, first }: { studyId: string; first: CohortInfo | null }) {
  const { data: cohort } = useQuery({
    queryKey: ['development', studyId],
    queryFn: () => ask(cohortRoutes.development, { study: studyId }),
    initialData: first,
  });
  if (cohort) return <OfCohort studyId={studyId} cohort={cohort} />;
  return (
    <PageBody title="Survey" fact="waits for patients" studyId={studyId}>
      <p>
        There is nothing to survey yet.{' '}
        <a href={`/studies/${studyId}/records`}>Bring patients in with Records</a>, and every column
        is described here.
      </p>
    </PageBody>
  );
}

function OfCohort({ studyId, cohort }: { studyId: string; cohort: CohortInfo }) {
  const { design } = useOverview(studyId);
  const [look] = useAddress('look');
  const [asked] = useAddress('view');
  const view = views.find(({ id }) => id === asked) ?? views[0];
  const split = design?.counts != null;
  const survey = useMemo(
    (): Survey => ({
      studyId,
      cohort,
      design: design?.choices,
      split,
      look: split ? look : undefined,
      version: `${cohort.id} ${cohort.version} ${design?.divisionId ?? ''}`,
    }),
    [studyId, cohort, design, split, look],
  );
  const findings = useFindingNotes(studyId, cohort);
  const development = design?.counts?.development.patients;
  return (
    <SurveyContext value={survey}>
      <PageBody
        title="Survey"
        fact={
          development === undefined || survey.look
            ? `all ${plural(cohort.rowCount, 'patient')}`
            : `${plural(development, 'development patient')}; held-out ones are not shown`
        }
        studyId={studyId}
        notes={findings.notes}
        checking={findings.checking}
        actions={split && <HeldOutSwitch />}
      >
        <nav className={styles.views} aria-label="Views of the survey">
          {views.map(({ id, name }) => (
            <button
              key={id}
              type="button"
              aria-pressed={id === view.id}
              onClick={() => setAddress({ view: id === 'columns' ? undefined : id })}
            >
              {name}
            </button>
          ))}
        </nav>
        <view.Content />
      </PageBody>
    </SurveyContext>
  );
}
