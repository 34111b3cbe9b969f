import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import { countCalled } from '@rook-scale/core/measures';
import type { CallRule } from '@rook-scale/core/screening';
import type { CandidateLine } from '../../contract/candidates.ts';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { screeningRoutes, type ScreeningView } from '../../contract/screenings.ts';
import type { Overview } from '../../contract/studies.ts';
import { useAddress } from '../../browser/address.ts';
import { ApiError, ask, messageOf } from '../../browser/api.ts';
import { caseWords, plural, showCount, showCutoff, showScore } from '../../browser/format.ts';
import { Button, Loading, Notice } from '../../components/index.ts';
import { PageBody } from '../frame/index.ts';
import { ListCalls, makePatients, RiskScale, useMarker } from '../risk-scale/index.ts';
import type { ScreeningFrame } from './BeforeScoring.tsx';
import { CallInList, givesReasons } from './CallInList.tsx';
import { DownloadDialog, largeList } from './DownloadDialog.tsx';
import { ListFiles } from './ListFiles.tsx';
import { ColumnsCompared } from './ColumnsCompared.tsx';
import { costsOf } from './costs-of.ts';
import { comparisonNotes, unusualNotes } from './notes.ts';
import { SeparationNotice } from '../separation/index.ts';
import { ClosedOutcomes, OutcomesKnown } from './OutcomesKnown.tsx';
import { WhichCutoff } from './WhichCutoff.tsx';
import styles from './Screening.module.css';

interface Props {
  frame: ScreeningFrame;
  id: string;
  line: CandidateLine;
  cohort: CohortInfo;
  overview: Overview;
}

export function Scored(props: Props) {
  const { data: view, error } = useQuery({
    queryKey: ['screening', props.id],
    queryFn: () => ask(screeningRoutes.view, { screening: props.id }),
  });
  if (view) return <ScoredList {...props} view={view} />;
  return (
    <PageBody title={props.frame.title} fact={props.frame.fact} actions={props.frame.actions}>
      {props.frame.picker}
      {error ? <Notice>{error.message}</Notice> : <Loading what="the call-in list" />}
    </PageBody>
  );
}

function ScoredList({ frame, line, cohort, overview, view }: Props & { view: ScreeningView }) {
  const { outcome } = view;
  const everyone = useMemo(
    () => makePatients({ risks: view.risks }, outcome),
    [view.risks, outcome],
  );
  const known = useMemo(
    () => view.known && makePatients(view.known.predictions, outcome),
    [view.known, outcome],
  );
  const [cutoff, move] = useMarker(view.calls.cutoff);
  const [asked, setTab] = useAddress('view');
  const [problem, setProblem] = useState<string>();
  const [askingFile, setAskingFile] = useState(false);
  /** A long list whose file is asked for, and at which cutoff if not its own. */
  const [saving, setSaving] = useState<{ cutoff?: number }>();
  const take = (cutoff?: number) =>
    view.rowCount >= largeList ? setSaving({ cutoff }) : download(view.id, cutoff);
  /** Files asked for on this page. */
  const [files, setFiles] = useState<string[]>([]);
  const isSaved = useCallback(
    (fileId: string) => setFiles((asked) => asked.filter((one) => one !== fileId)),
    [],
  );
  const act = (work: Promise<unknown>) => {
    setProblem(undefined);
    work.catch((error: unknown) => setProblem(messageOf(error)));
  };
  const called = countCalled(everyone.ranked, cutoff);
  const moved = cutoff !== view.calls.cutoff;
  const tabs: [string, string][] = [
    ['list', 'Call-in list'],
    ['columns', 'Columns compared'],
    ...(known ? [['outcomes', 'Outcomes known'] as [string, string]] : []),
  ];
  const tab = tabs.some(([name]) => name === asked) ? asked : 'list';
  if (view.outOfDate === 'list')
    return (
      <PageBody title={frame.title} fact={frame.fact} actions={frame.actions}>
        {frame.picker}
        {problem && <Notice>{problem}</Notice>}
        <OutOfDate view={view} line={line} onProblem={setProblem} />
      </PageBody>
    );
  return (
    <PageBody
      title={frame.title}
      fact={frame.fact}
      actions={frame.actions}
      studyId={overview.study.id}
      notes={[
        ...comparisonNotes(view, cohort.id, () => setTab('columns')),
        ...unusualNotes(view, cohort.id),
      ]}
      scale={
        <RiskScale
          patients={known ?? everyone}
          whose={cohort.name}
          outcome={caseWords(outcome)}
          cutoff={cutoff}
          chosen={view.calls.cutoff}
          rules={{
            choice: (
              <ListCalls
                key={JSON.stringify(view.calls.rule)}
                calls={view.calls}
                own={view.version.cutoff}
                patients={everyone.ranked.patients}
                show={everyone.scale.show}
                showScore={(score) => showScore(score, outcome)}
                cutoff={cutoff}
                onCalls={(calls) => act(choose(view, calls))}
                onMove={move}
              />
            ),
          }}
          costs={costsOf(view)}
          onMove={move}
        />
      }
    >
      {frame.picker}
      {problem && <Notice>{problem}</Notice>}
      <SeparationNotice name={line.name} warnings={view.warnings} />
      {view.outOfDate && <OutOfDate view={view} line={line} onProblem={setProblem} />}
      <div className={styles.scoreLine}>
        <div className={styles.tabs} role="group" aria-label="What to show">
          {tabs.map(([name, label]) => (
            <button
              key={name}
              type="button"
              aria-pressed={tab === name}
              onClick={() => setTab(name === 'list' ? undefined : name)}
            >
              {label}
            </button>
          ))}
        </div>
        <p>
          <strong>{showCount(called)}</strong> of {plural(cohort.rowCount, 'patient')} called in at{' '}
          {showCutoff(cutoff, outcome)}
          {view.unscored > 0 && `, ${showCount(view.unscored)} not scored`}
          {moved && (
            <span className="quiet">
              {' '}
              (not kept: this list’s cutoff is {showCutoff(view.calls.cutoff, outcome)})
            </span>
          )}
        </p>
        <span className={styles.download}>
          <Button onClick={() => (moved ? setAskingFile(true) : take())}>
            <Download size={15} aria-hidden="true" />
            Download CSV
          </Button>
          <a
            href={`/api/screenings/${view.id}/head${moved ? `?cutoff=${cutoff}` : ''}`}
            download
            title="Model, version, cutoff, rule, costs and dates of this list"
          >
            Head file
          </a>
        </span>
      </div>
      {view.rowCount >= largeList && (
        <ListFiles
          id={view.id}
          cutoff={view.calls.cutoff}
          showCutoff={(at) => showCutoff(at, outcome)}
          wanted={files}
          onSaved={isSaved}
        />
      )}
      {!known && view.closed.heldOut + view.closed.sealed > 0 && (
        <ClosedOutcomes {...view.closed} />
      )}
      {tab === 'list' && <CallInList view={view} cohort={cohort} cutoff={cutoff} called={called} />}
      {tab === 'columns' && (
        <>
          <p className="quiet">
            As the list was scored.{' '}
            <button type="button" className="link" onClick={() => setTab('match')}>
              Match columns and score again
            </button>
          </p>
          <ColumnsCompared check={view} />
        </>
      )}
      {askingFile && (
        <WhichCutoff
          kept={view.calls.cutoff}
          marker={cutoff}
          show={(at) => showCutoff(at, outcome)}
          onClose={() => setAskingFile(false)}
          onTake={(wanted) => {
            setAskingFile(false);
            take(wanted);
          }}
        />
      )}
      {saving && (
        <DownloadDialog
          id={view.id}
          rowCount={view.rowCount}
          cutoff={saving.cutoff}
          hasReasons={givesReasons(view)}
          onAsked={(fileId) => setFiles((before) => [...before, fileId])}
          onClose={() => setSaving(undefined)}
        />
      )}
      {tab === 'outcomes' && known && (
        <OutcomesKnown
          view={view}
          patients={known}
          cohort={cohort}
          line={line}
          overview={overview}
          cutoff={cutoff}
        />
      )}
    </PageBody>
  );
}

/** Keeps who of the list is called in. */
const choose = ({ id, createdAt }: ScreeningView, calls: CallRule) =>
  ask(screeningRoutes.setCalls, { screening: id }, { body: { calls, scoredAt: createdAt } });

/** What has changed since the list was scored, with the one act that puts it right. */
function OutOfDate({
  view,
  line,
  onProblem,
}: {
  view: ScreeningView;
  line: CandidateLine;
  onProblem: (sentence: string | undefined) => void;
}) {
  const queries = useQueryClient();
  const [, setTab] = useAddress('view');
  const [busy, setBusy] = useState(false);
  const again = async () => {
    setBusy(true);
    onProblem(undefined);
    try {
      await ask(
        screeningRoutes.score,
        { study: view.studyId },
        {
          body: {
            cohort: view.cohort.id,
            candidate: line.id,
          },
        },
      );
      await queries.invalidateQueries({ queryKey: ['screening', view.id] });
    } catch (error) {
      // There it is said what stands against it, and asked.
      if (error instanceof ApiError && asked.has(error.code)) setTab('match');
      else onProblem(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  const changes = {
    list: 'This list was changed after it was scored: its risks are not those of the patients as they stand now.',
    fit: `${line.name} was fitted again after this list was scored.`,
    cases: 'What a case is was changed in Design after this list was scored.',
    matching: 'The columns of this list were matched anew after it was scored.',
    version: view.now
      ? `${line.name} is at version ${view.now.number} now, with cutoff ${showCutoff(view.now.cutoff, view.outcome)}. This list keeps version ${view.version.number}, with cutoff ${showCutoff(view.version.cutoff, view.outcome)}, until it is scored again.`
      : '',
  };
  return (
    <div className={styles.outOfDate}>
      <Notice kind="plain">
        {changes[view.outOfDate!]}{' '}
        <button type="button" className="link" disabled={busy} onClick={() => void again()}>
          Score the list again
        </button>
      </Notice>
    </div>
  );
}

/** What is asked before a list is scored. */
const asked = new Set(['rests-on-too-little', 'not-checked', 'out-of-date']);

function download(id: string, cutoff?: number): void {
  const query = cutoff === undefined ? '' : `?cutoff=${cutoff}`;
  window.location.assign(`/api/screenings/${id}/file${query}`);
}
