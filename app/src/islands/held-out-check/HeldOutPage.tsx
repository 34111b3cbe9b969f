import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { errorSums, errorTable, type CutoffRule } from '@rook-scale/core/measures';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { type HeldOutView, lookRoutes } from '../../contract/looks.ts';
import type { Overview } from '../../contract/studies.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { startingCandidate } from '../../browser/starting-candidate.ts';
import { caseWords, errorWords, plural } from '../../browser/format.ts';
import { Button, Notice } from '../../components/index.ts';
import { PageBody, Parts, StagePage, useOverview } from '../frame/index.ts';
import { SeparationNotice } from '../separation/index.ts';
import {
  hasOwnCosts,
  makePatients,
  RiskScale,
  useMarker,
  type Patients,
} from '../risk-scale/index.ts';
import { CandidateChoice } from './CandidateChoice.tsx';
import { CostChart } from './CostChart.tsx';
import { ErrorTableView } from './ErrorTableView.tsx';
import { heldOutNotes } from './notes.tsx';
import { RocChart } from './RocChart.tsx';
import { Sections } from './sections/index.ts';
import { SealedPart } from './SealedPart.tsx';
import { levelCostsFor, wholeOf } from './whole.ts';
import styles from './HeldOut.module.css';

export default function HeldOutPage({
  overview,
  candidates,
  query,
}: {
  overview: Overview;
  candidates: CandidateLine[];
  query: Record<string, string>;
}) {
  return (
    <StagePage stage="held-out-check" overview={overview} query={query}>
      <HeldOutCheck studyId={overview.study.id} first={candidates} />
    </StagePage>
  );
}

function HeldOutCheck({ studyId, first }: { studyId: string; first: CandidateLine[] }) {
  const overview = useOverview(studyId);
  const { data: lines } = useQuery({
    queryKey: ['candidates', studyId],
    queryFn: () => ask(candidateRoutes.list, { study: studyId }),
    initialData: first,
  });
  const fitted = lines.filter((line) => line.results);
  const look = useMutation({
    mutationFn: (candidate: string) =>
      ask(lookRoutes.take, { study: studyId }, { body: { candidate } }),
  });
  const { mutate } = look;
  const wanted = useWanted(fitted, overview.chosen);
  const looked = useRef<string>(undefined);
  const asked = fitted.find((one) => one.id === wanted);
  useEffect(() => {
    // What was looked at in this fit is shown at once; the first look waits to be asked for.
    if (!asked?.seen || looked.current === asked.id) return;
    looked.current = asked.id;
    mutate(asked.id);
  }, [asked, mutate]);
  const lookAt = (id: string) => {
    looked.current = id;
    mutate(id);
  };
  const choose = (id: string) => setAddress({ candidate: id, cutoff: undefined });
  const line = look.variables === wanted ? asked : undefined;
  const choice = <CandidateChoice lines={fitted} chosen={wanted} onChoose={choose} />;
  if (look.data && line?.id === look.data.candidateId)
    return (
      <Shown
        key={`${look.data.candidateId} ${String(look.data.fittedAt)}`}
        view={look.data}
        line={line}
        lines={lines}
        overview={overview}
        choice={choice}
        onLookAgain={() => lookAt(line.id)}
      />
    );
  return (
    <PageBody title="Held-out check" actions={choice}>
      {look.isError && <Notice>{look.error.message}</Notice>}
      {fitted.length === 0 ? (
        <p>
          The held-out patients are looked at with a fitted candidate.{' '}
          <a href={`/studies/${studyId}/candidates`}>Fit one in Candidates</a> first.
        </p>
      ) : look.isPending ? (
        <p className="quiet">Opening the held-out patients.</p>
      ) : (
        asked && (
          <FirstLook line={asked} looks={overview.looks.count} onLook={() => lookAt(asked.id)} />
        )
      )}
    </PageBody>
  );
}

/** Asks before the first look at a candidate: it cannot be taken back. */
function FirstLook({
  line,
  looks,
  onLook,
}: {
  line: CandidateLine;
  looks: number;
  onLook: () => void;
}) {
  return (
    <section className={styles.first}>
      <h2>{line.name} has not been held against the held-out patients yet</h2>
      <p>
        {looks === 0
          ? 'Nobody has looked at them so far.'
          : `They were looked at ${looks === 1 ? 'once' : `${looks} times`} so far.`}{' '}
        Each look that leads to a change makes what they show a little too good. Choose the
        candidate and its cutoff out of fold first; then look.
      </p>
      {line.outOfDate && (
        <p>
          It was fitted on an earlier design: the look would be at that design’s held-out patients.
        </p>
      )}
      <Button look="main" onClick={onLook}>
        Look at the held-out patients
      </Button>
    </section>
  );
}

/** The candidate in the address; without one the chosen one, or else the best at first, and that one from then on. */
function useWanted(fitted: CandidateLine[], chosen: Overview['chosen']): string | undefined {
  const [asked] = useAddress('candidate');
  const [fallback, setFallback] = useState<string>();
  if (fallback === undefined && fitted.length > 0) setFallback(startingCandidate(fitted, null)?.id);
  if (fitted.some((line) => line.id === asked)) return asked;
  return fitted.some((line) => line.id === chosen?.id) ? chosen?.id : fallback;
}

interface ShownProps {
  view: HeldOutView;
  line: CandidateLine;
  lines: CandidateLine[];
  overview: Overview;
  choice: ReactNode;
  onLookAgain: () => void;
}

function Shown({ view, line, lines, overview, choice, onLookAgain }: ShownProps) {
  const predicted = line.outcome!;
  const patients = useMemo(
    () => makePatients(view.predictions, predicted),
    [view.predictions, predicted],
  );
  // More may be looked at on this page.
  const { data: looks } = useQuery({
    queryKey: ['looks', overview.study.id],
    queryFn: () => ask(lookRoutes.list, { study: overview.study.id }),
    initialData: view.looks,
  });
  const [problem, setProblem] = useState<string>();
  const chosen = line.results!.cutoff;
  const [cutoff, move] = useMarker(chosen);
  const table = useMemo(() => errorTable(patients.ranked, cutoff), [patients, cutoff]);
  const costs = overview.design!.choices;
  const whole = useMemo(() => wholeOf(view.predictions), [view.predictions]);
  const setRule = (rule: CutoffRule) => {
    setProblem(undefined);
    ask(candidateRoutes.setCutoff, { candidate: line.id }, { body: rule }).catch((error: unknown) =>
      setProblem(messageOf(error)),
    );
  };
  return (
    <PageBody
      title="Held-out check"
      fact={`${patientsAndRows(patients)} the candidates have never seen`}
      actions={choice}
      studyId={overview.study.id}
      notes={heldOutNotes({
        studyId: overview.study.id,
        view: { ...view, looks },
        line,
        patients,
        table,
        costs,
        cutoff,
        chosen,
        onRule: setRule,
      })}
      scale={
        <RiskScale
          patients={patients}
          whose="held-out"
          outcome={caseWords(predicted)}
          cutoff={cutoff}
          chosen={chosen}
          rules={{ rule: line.cutoffRule, onRule: setRule }}
          costs={costs}
          onMove={move}
          fixed={line.family === 'reference'}
        />
      }
    >
      <p className={styles.onPaper}>
        {overview.study.name}: {line.name} at cutoff {patients.scale.show(cutoff)}. Looks at them so
        far: {looks.length}.
      </p>
      {problem && <Notice>{problem}</Notice>}
      <SeparationNotice name={line.name} warnings={line.warnings} />
      {line.fittedAt !== view.fittedAt && (
        <Notice kind="plain">
          {line.name} was fitted again since this look.{' '}
          <Button look="link" onClick={onLookAgain}>
            Look at the new fit
          </Button>
        </Notice>
      )}
      {line.outOfDate && (
        <Notice kind="plain">
          {line.name} was fitted on an earlier design: these are that design’s held-out patients.{' '}
          <a href={`/studies/${overview.study.id}/candidates`}>Fit it again in Candidates</a>
        </Notice>
      )}
      <div className={styles.top}>
        <Parts>
          <ErrorTableView
            table={table}
            costs={errorSums(patients.ranked, cutoff, costs)}
            cutoff={patients.scale.show(cutoff)}
            outcome={errorWords(predicted, overview.outcome?.other)}
          />
          <RocChart patients={patients} table={table} />
          <CostChart patients={patients} costs={costs} cutoff={cutoff} />
        </Parts>
      </div>
      {patients.clusters && (
        <p className="quiet">
          Intervals and tests are by patient (cluster-robust or cluster bootstrap), as some patients
          have several rows.
        </p>
      )}
      <Sections
        {...{ patients, table, cutoff, line, lines }}
        studyId={overview.study.id}
        fittedAt={view.fittedAt ?? ''}
        whole={whole}
        reference={view.reference ?? undefined}
        levelCosts={whole && levelCostsFor(whole, costs)}
        costs={hasOwnCosts(costs) || costs.levelCosts ? undefined : costs}
        words={errorWords(predicted, overview.outcome?.other)}
      />
      <SealedPart
        studyId={overview.study.id}
        line={line}
        sealed={overview.design!.counts?.sealed}
        costs={costs}
        other={overview.outcome?.other}
      />
    </PageBody>
  );
}

/** "184 patients", or "120 patients, 360 rows" where patients have several. */
const patientsAndRows = ({ clusters, ranked }: Patients): string =>
  clusters
    ? `${plural(clusters.count, 'patient')}, ${plural(ranked.patients, 'row')}`
    : plural(ranked.patients, 'patient');
