import { useQueryClient, type Query } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { ask } from '../../browser/api.ts';
import { studyRoutes } from '../../contract/studies.ts';
import { hearStudy } from '../../browser/study-events.ts';

/** Fetches anew whenever the server says that the study has changed. False while the server is away. */
export function useLiveStudy(studyId: string): boolean {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    // Which study is shown first next time; no matter if it does not arrive.
    void ask(studyRoutes.opened, { study: studyId }).catch(() => undefined);
    let late: ReturnType<typeof setTimeout> | undefined;
    // What is named by its version never changes; fetching it anew would only cost.
    const mayChange = { predicate: ({ meta }: Query) => meta?.lasting !== true };
    const leave = hearStudy(studyId, {
      changed: () => void client.invalidateQueries(mayChange),
      open: () => {
        clearTimeout(late);
        late = undefined;
        setConnected(true);
      },
      // A short gap is no news: the browser asks again by itself.
      away: () => {
        late ??= setTimeout(() => setConnected(false), 3000);
      },
    });
    return () => {
      clearTimeout(late);
      leave();
    };
  }, [studyId, client]);
  return connected;
}
