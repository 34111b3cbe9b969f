export interface StudyListener {
  changed: () => void;
  open: () => void;
  away: () => void;
}

/**
 * Hears what the server says of a study, through one stream for all tabs of the browser, or where a
 * browser cannot share one through a stream of this tab. Gives a function that ends it.
 */
export function hearStudy(studyId: string, listener: StudyListener): () => void {
  if (typeof SharedWorker === 'undefined') return hearAlone(studyId, listener);
  const worker = new SharedWorker(new URL('./study-events.worker.ts', import.meta.url), {
    type: 'module',
    name: 'study-events',
  });
  const { port } = worker;
  let alone: (() => void) | undefined;
  // A worker that cannot be loaded is as good as none.
  worker.onerror = () => (alone ??= hearAlone(studyId, listener));
  port.onmessage = ({ data }: MessageEvent<keyof StudyListener>) => listener[data]();
  port.postMessage({ study: studyId });
  const leave = () => port.postMessage('leave');
  // A tab that closes, or waits in the history, asks for nothing; one that comes back asks again.
  const back = ({ persisted }: PageTransitionEvent) => {
    if (!persisted) return;
    port.postMessage({ study: studyId });
    listener.changed();
  };
  addEventListener('pagehide', leave);
  addEventListener('pageshow', back);
  return () => {
    removeEventListener('pagehide', leave);
    removeEventListener('pageshow', back);
    leave();
    alone?.();
  };
}

function hearAlone(studyId: string, { changed, open, away }: StudyListener): () => void {
  const events = new EventSource(`/api/studies/${studyId}/events`);
  events.addEventListener('changed', changed);
  events.onopen = open;
  events.onerror = away;
  return () => events.close();
}
