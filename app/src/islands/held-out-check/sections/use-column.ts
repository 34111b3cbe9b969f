import { useQuery } from '@tanstack/react-query';
import type { Dictionary } from '@rook-scale/core/table';
import { ask } from '../../../browser/api.ts';
import { unpackColumn } from '../../../browser/columns.ts';
import { lookRoutes } from '../../../contract/looks.ts';
import type { SectionProps } from './section.ts';

/** Columns that figures can be set against: by their levels, or along their numbers. */
export const canStandAgainst = ({ kind, role }: Dictionary[number]): boolean =>
  role !== 'identifier' && role !== 'outcome' && kind !== 'text';

/** A column of the held-out patients, in the order of what was predicted of them. */
export const useHeldOutColumn = (
  { studyId, line, fittedAt }: Pick<SectionProps, 'studyId' | 'line' | 'fittedAt'>,
  name: string | undefined,
) =>
  useQuery({
    queryKey: ['held-out column', line.id, fittedAt, name],
    queryFn: async () => {
      const query = { candidate: line.id, fittedAt, name: name! };
      return unpackColumn(await ask(lookRoutes.column, { study: studyId }, { query }));
    },
    enabled: name !== undefined,
    staleTime: Infinity,
  });
