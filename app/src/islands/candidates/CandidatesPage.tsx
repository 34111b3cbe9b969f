import { useQuery } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { repeatsOf } from '@rook-scale/core/design';
import { canBePart, familyDescriptions, type Settings } from '@rook-scale/core/families';
import type { CutoffRule } from '@rook-scale/core/measures';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { cohortRoutes } from '../../contract/cohorts.ts';
import { searchRoutes, type SearchLine } from '../../contract/searches.ts';
import { studyRoutes, type Overview } from '../../contract/studies.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { remove } from '../../browser/deletion.ts';
import { focusOn } from '../../browser/focus.ts';
import { caseWords, listWords, plural, showCount } from '../../browser/format.ts';
import { Button, Loading, Notice } from '../../components/index.ts';
import { useLeakNotes } from '../findings/index.ts';
import { PageBody, StagePage, useOverview } from '../frame/index.ts';
import { SeparationNotice } from '../separation/index.ts';
import { hasOwnCosts, makePatients, RiskScale, useMarker } from '../risk-scale/index.ts';
import { kindText, SearchView, useSearches } from '../search/index.ts';
import { AddCandidate } from './AddCandidate.tsx';
import { CandidateWords } from './CandidateWords.tsx';
import { ComparedWith, Comparison } from './comparison/index.ts';
import { CandidateTable } from './CandidateTable.tsx';
import { groupsOf } from './groups.ts';
import { SideBySide, useDrawn } from './side-by-side/index.ts';
import { candidateNotes } from './notes.ts';
import { tooGoodNote } from './too-good.ts';
import { Facets, LossCurveView } from '../facets/index.ts';
import styles from './Candidates.module.css';

export default function CandidatesPage({
  overview,
  candidates,
  searches,
  query,
}: {
  overview: Overview;
  candidates: CandidateLine[];
  searches: SearchLine[];
  query: Record<string, string>;
}) {
  return (
    <StagePage stage="candidates" overview={overview} query={query}>
      <Candidates studyId={overview.study.id} first={candidates} firstSearches={searches} />
    </StagePage>
  );
}

function Candidates({
  studyId,
  first,
  firstSearches,
}: {
  studyId: string;
  first: CandidateLine[];
  firstSearches: SearchLine[];
}) {
  const overview = useOverview(studyId);
  const { data: lines } = useQuery({
    queryKey: ['candidates', studyId],
    queryFn: () => ask(candidateRoutes.list, { study: studyId }),
    initialData: first,
  });
  const searches = useSearches(studyId, firstSearches);
  const [askedSearch] = useAddress('search');
  const search = searches.find(({ id }) => id === askedSearch);
  const selectedId = useSelection(lines);
  const drawn = useDrawn(lines);
  const select = (candidate: string) => setAddress({ candidate, search: undefined });
  const openSearch = (id: string) => setAddress({ search: id, measure: undefined });
  /** A dialog in which one is added: anew, or as a changed copy of this one. */
  const [adding, setAdding] = useState<{ from?: CandidateLine; blended?: string[] }>();
  const [problem, setProblem] = useState<string>();
  const act = useCallback((work: Promise<unknown>) => {
    setProblem(undefined);
    work.catch((error: unknown) => setProblem(messageOf(error)));
  }, []);
  const selected = search ? undefined : lines.find((line) => line.id === selectedId);
  const { data: detail } = useQuery({
    queryKey: ['candidate', selectedId, selected?.fittedAt],
    queryFn: () => ask(candidateRoutes.detail, { candidate: selectedId! }),
    enabled: selected?.results !== undefined,
  });
  const { data: cohort } = useQuery({
    queryKey: ['development', studyId],
    queryFn: () => ask(cohortRoutes.development, { study: studyId }),
  });
  const leaks = useLeakNotes(
    studyId,
    cohort ?? undefined,
    overview.design?.choices.predictors ?? [],
  );
  const ready = overview.design?.divisionId != null;
  const kind = overview.design?.choices.kind ?? 'event';
  const choices = overview.design?.choices;
  const hasTwoCosts = choices && !hasOwnCosts(choices) && !choices.levelCosts;
  const commonCosts = hasTwoCosts ? choices : undefined;
  const stale = lines.filter(
    (line) =>
      line.outOfDate &&
      line.state !== 'waiting' &&
      line.state !== 'fitting' &&
      canPredict(line, kind),
  );
  const others = lines.filter((line) => !canPredict(line, kind));
  const refit = (ids: string[]) =>
    act(ask(candidateRoutes.refit, { study: studyId }, { body: { candidates: ids } }));
  const fitWith = (settings: Settings) => {
    const { family, settings: old, basis } = selected!;
    const body = { family, settings: { ...old, ...settings }, basis };
    act(
      ask(candidateRoutes.add, { study: studyId }, { body }).then(({ id }) => {
        select(id);
      }),
    );
  };
  const setRule = (rule: CutoffRule) =>
    act(ask(candidateRoutes.setCutoff, { candidate: selectedId! }, { body: rule }));
  return (
    <PageBody
      title="Candidates"
      fact={ready ? developmentFact(overview) : undefined}
      studyId={studyId}
      notes={[
        ...tooGoodNote(lines, studyId),
        ...leaks.notes,
        ...(overview.design
          ? candidateNotes(selected, detail, {
              studyId,
              costs: overview.design.choices,
              onRule: setRule,
            })
          : []),
      ]}
      checking={leaks.checking}
      actions={
        <>
          {stale.length > 0 && ready && (
            <Button onClick={() => refit(stale.map((line) => line.id))}>
              Fit {plural(stale.length, 'candidate')} again
            </Button>
          )}
          <Button look="main" disabled={!ready} onClick={() => setAdding({})}>
            Add candidate
          </Button>
        </>
      }
      scale={
        selected?.results && overview.design ? (
          <Scale line={selected} overview={overview} act={act} />
        ) : undefined
      }
    >
      {problem && <Notice>{problem}</Notice>}
      {!ready && <NotReady overview={overview} />}
      {stale.length > 0 && ready && (
        <Notice kind="plain">
          The design was changed since{' '}
          {stale.length === 1 ? 'this candidate was' : 'these candidates were'} fitted:{' '}
          {stale.map((line) => line.name).join(', ')}. The figures below are those of the old
          design.
        </Notice>
      )}
      {others.length > 0 && (
        <Notice kind="plain">
          {listWords(
            others.map((line) => line.name),
            'and',
          )}{' '}
          {others.length === 1 ? 'predicts' : 'predict'} another kind of outcome than the design
          asks for now. {others.length === 1 ? 'It is' : 'They are'} current again when the design
          is.
        </Notice>
      )}
      {selected && <SeparationNotice name={selected.name} warnings={selected.warnings} />}
      {lines.length > 0 && (
        <CandidateTable
          lines={lines}
          searches={searches}
          kind={kind}
          selected={selected?.id}
          chosen={overview.chosen?.id}
          search={search?.id}
          drawn={drawn}
          onSelect={select}
          onSearch={openSearch}
          onStop={(id) => act(ask(searchRoutes.stop, { search: id }))}
          onDeleteSearch={(line) =>
            void remove('search', line.id, `${line.name}, ${kindText(line)}`)
          }
          onCancel={(id) => act(ask(candidateRoutes.cancel, { candidate: id }))}
          onRefit={(id) => refit([id])}
          onDelete={(line) => void remove('candidate', line.id, line.name)}
        />
      )}
      <SideBySide
        {...{ studyId, drawn, kind }}
        onBlend={
          ready && drawn.lines.every(({ family }) => canBePart(family))
            ? () => setAdding({ blended: drawn.lines.map(({ id }) => id) })
            : undefined
        }
      />
      {search && (
        <SearchView
          key={search.id}
          {...{ studyId, kind, act }}
          line={search}
          onCandidate={select}
        />
      )}
      {selected && (
        <CandidateWords
          key={selected.id}
          line={selected}
          groups={groupsOf(lines)}
          isChosen={selected.id === overview.chosen?.id}
          onChoose={
            selected.results && selected.family !== 'reference'
              ? (candidate) =>
                  act(ask(studyRoutes.choose, { study: studyId }, { body: { candidate } }))
              : undefined
          }
          onCopy={
            ready && canPredict(selected, kind) ? () => setAdding({ from: selected }) : undefined
          }
        >
          <ComparedWith line={selected} lines={lines} />
        </CandidateWords>
      )}
      {selected && <Comparison studyId={studyId} line={selected} lines={lines} />}
      {selected?.learning && (
        <section className={styles.detail} aria-label={`${selected.name} while it learns`}>
          <LossCurveView value={selected.learning} line={selected} soFar />
        </section>
      )}
      {selected?.results && !detail && <Loading what={`the model of ${selected.name}`} />}
      {selected && detail && selected.results && (
        <section className={styles.detail} aria-label={`${selected.name} in detail`}>
          {detail.facets.length > 0 ? (
            <Facets
              detail={detail}
              line={selected}
              studyId={studyId}
              costs={commonCosts}
              onFitWith={fitWith}
            />
          ) : (
            <p className="quiet">
              {selected.name} knows nothing of the patient and gives everybody what the development
              patients have on the whole. It is there to be beaten.
            </p>
          )}
        </section>
      )}
      {adding && (
        <AddCandidate
          studyId={studyId}
          design={overview.design!.choices}
          outcome={{
            kind: overview.design!.choices.kind,
            ordered: overview.outcome?.ordered ?? false,
          }}
          from={adding.from}
          lines={lines}
          blended={adding.blended}
          development={{
            patients: overview.design!.counts!.development.patients,
            parts:
              (overview.design!.counts!.folds?.length ?? 5) *
              repeatsOf(overview.design!.choices.folds),
          }}
          onSearch={(id) => {
            setAdding(undefined);
            openSearch(id);
            focusOn(`[data-search="${id}"]`);
          }}
          onClose={() => setAdding(undefined)}
          onAdded={(id) => {
            setAdding(undefined);
            select(id);
            focusOn(`[data-candidate="${id}"]`);
          }}
        />
      )}
    </PageBody>
  );
}

/** Whether a candidate, or each part of a blend, can be fitted to this kind of outcome. */
const canPredict = ({ family, parts }: CandidateLine, kind: OutcomeKind) =>
  [family, ...(parts ?? []).map((part) => part.family)].every((own) =>
    familyDescriptions.some(({ id, outcomes }) => id === own && outcomes.includes(kind)),
  );

function NotReady({ overview }: { overview: Overview }) {
  const { design, study } = overview;
  return (
    <p>
      Candidates are fitted once the design is complete.{' '}
      {design?.obstacle ?? design?.questions.join(' ') ?? 'There are no patients yet.'}{' '}
      <a href={`/studies/${study.id}/${design ? 'design' : 'records'}`}>
        Go to {design ? 'Design' : 'Records'}
      </a>
    </p>
  );
}

function developmentFact({ design }: Overview): string {
  const { development, folds } = design!.counts!;
  const { patients, events } = development;
  // Divisions from before folds were counted have five.
  const count = folds?.length ?? 5;
  const times = repeatsOf(design!.choices.folds);
  const who = design!.choices.kind === 'event' ? 'with the event' : 'of them cases';
  return `${plural(patients, 'development patient')}, ${showCount(events)} ${who}, ${times > 1 ? `${times} times ` : ''}${count}-fold cross-validated`;
}

/** The selected candidate, kept in the address; the newest fitted one at first. */
function useSelection(lines: CandidateLine[]): string | undefined {
  const [asked] = useAddress('candidate');
  const there = lines.some((line) => line.id === asked);
  const fallback = lines.filter((line) => line.results).at(-1) ?? lines.at(-1);
  return there ? asked : fallback?.id;
}

function Scale({
  line,
  overview,
  act,
}: {
  line: CandidateLine;
  overview: Overview;
  act: (work: Promise<unknown>) => void;
}) {
  const { data } = useQuery({
    queryKey: [
      'predictions',
      line.id,
      line.fittedAt,
      line.outcome?.cases,
      overview.design?.choices.ownCosts,
    ],
    queryFn: () => ask(candidateRoutes.predictions, { candidate: line.id }),
    staleTime: Infinity,
  });
  const patients = useMemo(() => data && makePatients(data, line.outcome), [data, line.outcome]);
  const chosen = line.results!.cutoff;
  const [cutoff, move] = useMarker(chosen);
  const design = overview.design!;
  if (!patients) return <div className={styles.scaleWaiting} />;
  return (
    <RiskScale
      patients={patients}
      whose="out-of-fold"
      outcome={caseWords(line.outcome!)}
      cutoff={cutoff}
      chosen={chosen}
      rules={{
        rule: line.cutoffRule,
        onRule: (rule) =>
          act(ask(candidateRoutes.setCutoff, { candidate: line.id }, { body: rule })),
      }}
      costs={design.choices}
      onMove={move}
      fixed={line.family === 'reference'}
    />
  );
}
