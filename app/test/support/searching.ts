import type { SearchPlan } from '@rook-scale/core/search';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { SearchDetail, SearchLine } from '../../src/contract/searches.ts';
import type { Client, Refusal } from './client.ts';

/** Searches of one study, as its page asks for them. */
export function searching(client: Client, study: string) {
  const lineOf = async (id: string): Promise<SearchLine> =>
    (await client.get<SearchLine[]>(`/api/studies/${study}/searches`)).find(
      (line) => line.id === id,
    )!;
  const until = async (id: string, isSo: (line: SearchLine) => boolean): Promise<SearchLine> => {
    for (let i = 0; i < 900; i++) {
      const line = await lineOf(id);
      if (isSo(line)) return line;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error(`Not in time: ${JSON.stringify(await lineOf(id))}`);
  };
  return {
    lineOf,
    until,
    search: (plan: Partial<SearchPlan>, family: string, basis?: object) =>
      client.send<Refusal & { id: string }>('POST', `/api/studies/${study}/searches`, {
        family,
        plan: { fixed: {}, way: { kind: 'all' }, measure: 'auc', tried: {}, ...plan },
        ...(basis && { basis }),
      }),
    act: <T = Refusal>(id: string, what: string, body?: unknown) =>
      client.send<T & Refusal>('POST', `/api/searches/${id}/${what}`, body),
    done: (id: string) => until(id, ({ state }) => state !== 'waiting' && state !== 'running'),
    detailOf: (id: string, measure = 'auc') =>
      client.get<SearchDetail>(`/api/searches/${id}?measure=${encodeURIComponent(measure)}`),
    candidates: () => client.get<CandidateLine[]>(`/api/studies/${study}/candidates`),
  };
}
