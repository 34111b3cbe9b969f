import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import { type Overview, studyRoutes } from '../../contract/studies.ts';
import { AskedQuery } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { arrive, focusThere, keepFocus } from '../../browser/focus.ts';
import { stepHistory } from '../../browser/edits.ts';
import { goTo, saveBeforeLeaving } from '../../browser/leaving.ts';
import { Margin, type MarginNote } from '../margin/index.ts';
import { Boundary } from './Boundary.tsx';
import { Part, Parts } from './Part.tsx';
import { CommandSearch } from './CommandSearch.tsx';
import { fetchCommands, overviewCommands, type Command } from './commands.ts';
import { ConsentDialog } from './ConsentDialog.tsx';
import { HistoryDialog } from './HistoryDialog.tsx';
import { KeyList } from './KeyList.tsx';
import { useFrameKeys, type FrameActs } from './keys.ts';
import { useLiveStudy } from './live.ts';
import { QueueDialog } from './QueueDialog.tsx';
import { Spine } from './Spine.tsx';
import { stages, type StageId } from './stages.ts';
import type { StudyAct } from './StudySwitcher.tsx';
import { Toasts } from './Toasts.tsx';
import { TopLine } from './TopLine.tsx';
import styles from './Frame.module.css';

interface PageProps {
  stage: StageId;
  overview: Overview;
  /** The query of the address the page was asked for. */
  query: Record<string, string>;
  children: ReactNode;
}

/** What every page of a study stands in: one store of fetched data, kept true by the server's events. */
export function StagePage({ stage, overview, query, children }: PageProps) {
  const [client] = useState(() => {
    const made = new QueryClient({
      defaultOptions: { queries: { staleTime: 2_000, retry: 2, refetchOnWindowFocus: true } },
    });
    made.setQueryData(['overview', overview.study.id], overview);
    return made;
  });
  return (
    <QueryClientProvider client={client}>
      <AskedQuery value={query}>
        <Boundary>
          <Surround stage={stage} studyId={overview.study.id}>
            {children}
          </Surround>
        </Boundary>
      </AskedQuery>
    </QueryClientProvider>
  );
}

/** The overview of the study, live. */
export function useOverview(studyId: string): Overview {
  const { data } = useQuery({
    queryKey: ['overview', studyId],
    queryFn: () => ask(studyRoutes.overview, { study: studyId }),
  });
  if (!data) throw new Error('The overview is set before the page is drawn.');
  return data;
}

type Open = 'search' | 'keys' | 'queue' | 'history';

function Surround({
  stage,
  studyId,
  children,
}: {
  stage: StageId;
  studyId: string;
  children: ReactNode;
}) {
  const overview = useOverview(studyId);
  const connected = useLiveStudy(studyId);
  const [open, setOpen] = useState<Open>();
  const [asking, setAsking] = useState<StudyAct>();
  useEffect(saveBeforeLeaving, []);
  useEffect(keepFocus, []);
  const acts = useMemo(
    (): FrameActs => ({
      stage: (position) => {
        const target = stages[position - 1] as (typeof stages)[number] | undefined;
        if (!target) return;
        focusThere('main h1');
        void goTo(`/studies/${studyId}/${target.id}`);
      },
      search: () => setOpen('search'),
      keys: () => setOpen('keys'),
      undo: () => void stepHistory(studyId, 'undo'),
      redo: () => void stepHistory(studyId, 'redo'),
    }),
    [studyId],
  );
  useFrameKeys(acts);
  const close = () => setOpen(undefined);
  return (
    <div className={styles.frame}>
      <TopLine
        overview={overview}
        asking={asking}
        onAsk={setAsking}
        onStep={(direction, act) => void stepHistory(studyId, direction, act)}
        onHistory={() => setOpen('history')}
        onQueue={() => setOpen('queue')}
        onSearch={acts.search}
      />
      {!connected && (
        <p className={styles.away} role="status">
          The server does not answer. What was saved is safe; this page carries on when it is back.
        </p>
      )}
      <Spine stage={stage} overview={overview} />
      {children}
      {open === 'search' && (
        <Search overview={overview} acts={acts} onOpen={setOpen} onAsk={setAsking} />
      )}
      {open === 'keys' && <KeyList onClose={close} />}
      {open === 'queue' && <QueueDialog onClose={close} />}
      {open === 'history' && <HistoryDialog studyId={studyId} onClose={close} />}
      <ConsentDialog />
      <Toasts />
    </div>
  );
}

interface SearchProps {
  overview: Overview;
  acts: FrameActs;
  onOpen: (what: Open | undefined) => void;
  onAsk: (what: StudyAct) => void;
}

function Search({ overview, acts, onOpen, onAsk }: SearchProps) {
  const { study, history } = overview;
  const { data: fetched } = useQuery({
    queryKey: ['commands', study.id],
    queryFn: () => fetchCommands(study.id),
  });
  const commands = useMemo(() => {
    const act = (name: string, run: () => void): Command => ({ kind: 'act', name, run });
    const own = [
      act('Show the queue', () => onOpen('queue')),
      act('Show the history', () => onOpen('history')),
      act('Show the keys', () => onOpen('keys')),
      act('New study', () => onAsk('new')),
      act('Rename this study', () => onAsk('rename')),
      act('Delete this study', () => onAsk('delete')),
      act('Deleted within the last day', () => onAsk('deleted')),
    ];
    if (history.redo) own.unshift(act(`Redo: ${history.redo.what}`, acts.redo));
    if (history.undo) own.unshift(act(`Undo: ${history.undo.what}`, acts.undo));
    return [...overviewCommands(overview, own), ...(fetched ?? [])];
  }, [overview, history, acts, fetched, onOpen, onAsk]);
  return <CommandSearch commands={commands} onClose={() => onOpen(undefined)} />;
}

interface BodyProps {
  title: string;
  /** Beside the title, in quiet ink. */
  fact?: ReactNode;
  actions?: ReactNode;
  studyId?: string;
  notes?: MarginNote[];
  /** More notes may follow. */
  checking?: boolean;
  /** The band along the bottom, on the stages that have one. */
  scale?: ReactNode;
  children: ReactNode;
}

/** Sheet, margin and risk scale of one page. */
export function PageBody({
  title,
  fact,
  actions,
  studyId,
  notes = [],
  checking,
  scale,
  children,
}: BodyProps) {
  useEffect(arrive, []);
  return (
    <>
      <main className={styles.sheet}>
        <header className={styles.title}>
          <h1>{title}</h1>
          {fact && <p className="quiet">{fact}</p>}
          {actions && <div className={styles.actions}>{actions}</div>}
        </header>
        {/* Focusable, so that a page longer than the window can be scrolled by keyboard. */}
        <div className={styles.content} tabIndex={0} role="region" aria-label={`${title}, content`}>
          <Parts>{children}</Parts>
        </div>
      </main>
      <Part>
        <Margin studyId={studyId} notes={notes} checking={checking} />
      </Part>
      {scale && (
        <section className={styles.scale} aria-label="Risk scale">
          <Part>{scale}</Part>
        </section>
      )}
    </>
  );
}
