import { useQueries } from '@tanstack/react-query';
import type { Column } from '@rook-scale/core/table';
import { surveyRoutes } from '../../contract/surveys.ts';
import { ask, unpackBytes } from '../../browser/api.ts';
import { unpackColumn } from '../../browser/columns.ts';
import { useSurvey } from './context.ts';

export interface LoadedColumns {
  /** In the order they were asked for; undefined until all are here. */
  columns: Column[] | undefined;
  problem: string | undefined;
}

/** Whole columns of the patients at hand, kept while they are in force. */
export function useColumns(names: string[]): LoadedColumns {
  const { studyId, look, version } = useSurvey();
  const results = useQueries({
    queries: names.map((name) => ({
      queryKey: ['survey column', studyId, version, look ?? '', name],
      queryFn: () => fetchColumn(studyId, name, look),
      staleTime: Infinity,
      meta: { lasting: true },
    })),
    combine: (found) => ({
      columns: found.every(({ data }) => data) ? found.map(({ data }) => data!) : undefined,
      problem: found.find(({ error }) => error)?.error?.message,
    }),
  });
  return results;
}

/** The row in the cohort of each patient at hand. */
export function useRows(): Int32Array | undefined {
  const { studyId, look, version } = useSurvey();
  const [result] = useQueries({
    queries: [
      {
        queryKey: ['survey rows', studyId, version, look ?? ''],
        queryFn: async () => {
          const { rows } = await askColumns(studyId, { rows: 'yes', look });
          return new Int32Array(unpackBytes(rows!).buffer);
        },
        staleTime: Infinity,
        meta: { lasting: true },
      },
    ],
  });
  return result.data;
}

async function fetchColumn(studyId: string, name: string, look?: string): Promise<Column> {
  const { columns } = await askColumns(studyId, { name, look });
  return unpackColumn(columns[0]);
}

const askColumns = (
  studyId: string,
  { look, ...wanted }: { name?: string; rows?: 'yes'; look?: string },
) => ask(surveyRoutes.columns, { study: studyId }, { query: { ...wanted, ...(look && { look }) } });
