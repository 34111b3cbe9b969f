import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import { get } from '../../browser/api.ts';
import type { Overview } from '../../server/studies.ts';
import { Margin, type MarginNote } from '../margin/index.ts';
import { useLiveStudy } from './live.ts';
import { Spine } from './Spine.tsx';
import { stages, type StageId } from './stages.ts';
import { TopLine } from './TopLine.tsx';
import styles from './Frame.module.css';

interface PageProps {
  stage: StageId;
  overview: Overview;
  children: ReactNode;
}

/** What every page of a study stands in: one store of fetched data, kept true by the server's events. */
export function StagePage({ stage, overview, children }: PageProps) {
  const [client] = useState(() => {
    const made = new QueryClient({
      defaultOptions: { queries: { staleTime: 2_000, retry: 2, refetchOnWindowFocus: true } },
    });
    made.setQueryData(['overview', overview.study.id], overview);
    return made;
  });
  return (
    <QueryClientProvider client={client}>
      <Surround stage={stage} studyId={overview.study.id}>
        {children}
      </Surround>
    </QueryClientProvider>
  );
}

/** The overview of the study, live. */
export function useOverview(studyId: string): Overview {
  const { data } = useQuery({
    queryKey: ['overview', studyId],
    queryFn: () => get<Overview>(`/api/studies/${studyId}`),
  });
  if (!data) throw new Error('The overview is set before the page is drawn.');
  return data;
}

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
  useStageKeys(studyId);
  return (
    <div className={styles.frame}>
      <TopLine overview={overview} />
      {!connected && (
        <p className={styles.away} role="status">
          The server does not answer. What was saved is safe; this page carries on when it is back.
        </p>
      )}
      <Spine stage={stage} overview={overview} />
      {children}
    </div>
  );
}

interface BodyProps {
  title: string;
  /** Beside the title, in quiet ink. */
  fact?: ReactNode;
  actions?: ReactNode;
  notes?: MarginNote[];
  /** The band along the bottom, on the stages that have one. */
  scale?: ReactNode;
  children: ReactNode;
}

/** Sheet, margin and risk scale of one page. */
export function PageBody({ title, fact, actions, notes = [], scale, children }: BodyProps) {
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
          {children}
        </div>
      </main>
      <Margin notes={notes} />
      {scale && (
        <section className={styles.scale} aria-label="Risk scale">
          {scale}
        </section>
      )}
    </>
  );
}

function useStageKeys(studyId: string) {
  useEffect(() => {
    const go = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const stage = stages[Number(event.key) - 1];
      if (stage) window.location.assign(`/studies/${studyId}/${stage.id}`);
    };
    window.addEventListener('keydown', go);
    return () => window.removeEventListener('keydown', go);
  }, [studyId]);
}

/** Whether a key press belongs to a control that takes text, or to an open dialog. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.closest('input, select, textarea, dialog, [contenteditable]') !== null;
}
