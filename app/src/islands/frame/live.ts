import { useQueryClient, type Query } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

/** Fetches anew whenever the server says that the study has changed. False while the server is away. */
export function useLiveStudy(studyId: string): boolean {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    const events = new EventSource(`/api/studies/${studyId}/events`);
    let late: ReturnType<typeof setTimeout> | undefined;
    // What is named by its version never changes; fetching it anew would only cost.
    const mayChange = { predicate: ({ meta }: Query) => meta?.lasting !== true };
    events.addEventListener('changed', () => void client.invalidateQueries(mayChange));
    events.onopen = () => {
      clearTimeout(late);
      late = undefined;
      setConnected(true);
    };
    events.onerror = () => {
      // A short gap is no news: the browser asks again by itself.
      late ??= setTimeout(() => setConnected(false), 3000);
    };
    return () => {
      clearTimeout(late);
      events.close();
    };
  }, [studyId, client]);
  return connected;
}
