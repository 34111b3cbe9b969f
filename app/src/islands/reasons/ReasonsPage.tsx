import { useQuery } from '@tanstack/react-query';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import type { Overview } from '../../contract/studies.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { plural } from '../../browser/format.ts';
import { startingCandidate } from '../../browser/starting-candidate.ts';
import { Select } from '../../components/index.ts';
import { PageBody, Parts, StagePage, useOverview } from '../frame/index.ts';
import { hasReasons } from '../why/index.ts';
import { HowItActs } from './HowItActs.tsx';
import { InRules } from './InRules.tsx';
import { OnePatient } from './OnePatient.tsx';
import { OnTheWhole } from './OnTheWhole.tsx';
import { TwoAtOnce } from './TwoAtOnce.tsx';
import { turnNote } from './turn-note.ts';
import { useEffectView } from './use-effect-view.ts';
import { WhatMatters } from './WhatMatters.tsx';
import styles from './Reasons.module.css';

export default function ReasonsPage({
  overview,
  candidates,
  query,
}: {
  overview: Overview;
  candidates: CandidateLine[];
  query: Record<string, string>;
}) {
  return (
    <StagePage stage="reasons" overview={overview} query={query}>
      <Reasons studyId={overview.study.id} first={candidates} />
    </StagePage>
  );
}

/** Why a candidate says what it says. */
function Reasons({ studyId, first }: { studyId: string; first: CandidateLine[] }) {
  const { chosen } = useOverview(studyId);
  const { data: lines } = useQuery({
    queryKey: ['candidates', studyId],
    queryFn: () => ask(candidateRoutes.list, { study: studyId }),
    initialData: first,
  });
  const offered = lines.filter(hasReasons);
  const [asked] = useAddress('candidate');
  const line = offered.find(({ id }) => id === asked) ?? startingCandidate(offered, chosen);
  const { found } = useEffectView(line);
  const { labelOf } = useDictionary(studyId);
  if (!line)
    return (
      <PageBody title="Reasons">
        <p>
          Reasons are those of a fitted candidate that looks at predictors.{' '}
          <a href={`/studies/${studyId}/candidates`}>Fit one in Candidates</a> first.
        </p>
      </PageBody>
    );
  const shared = { studyId, line };
  return (
    <PageBody
      title="Reasons"
      fact={`${line.name}, ${plural(line.uses.length, 'predictor')}`}
      studyId={studyId}
      notes={[
        {
          id: 'what reasons are',
          standing: true,
          title: 'Of the model, not of the disease',
          text: 'These are reasons why the candidate says what it says. That a predictor moves a risk does not say that changing it would change what happens to the patient.',
        },
        ...turnNote(studyId, line, found, labelOf(found?.name ?? '')),
      ]}
      actions={
        <Select
          label="Candidate"
          quietLabel
          value={line.id}
          options={offered.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => setAddress({ candidate: id })}
        />
      }
    >
      <Parts>
        <section className={styles.section} aria-labelledby="matters">
          <h2 id="matters">What matters</h2>
          <WhatMatters key={`${line.id} ${line.fittedAt}`} {...shared} lines={offered} />
          <OnTheWhole {...shared} />
        </section>
        <section className={styles.section} aria-labelledby="acts">
          <h2 id="acts">How it acts</h2>
          <HowItActs {...shared} />
        </section>
        <section className={styles.section} aria-labelledby="two">
          <h2 id="two">Two at once</h2>
          <TwoAtOnce {...shared} />
        </section>
        <section className={styles.section} aria-labelledby="rules">
          <h2 id="rules">In rules</h2>
          <InRules {...shared} />
        </section>
        <section className={styles.section} aria-labelledby="patient">
          <h2 id="patient">One patient</h2>
          <OnePatient {...shared} />
        </section>
      </Parts>
    </PageBody>
  );
}
