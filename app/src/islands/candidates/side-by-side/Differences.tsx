import { useQueries } from '@tanstack/react-query';
import { ask, messageOf } from '../../../browser/api.ts';
import { plural } from '../../../browser/format.ts';
import { type CandidateLine, candidateRoutes } from '../../../contract/candidates.ts';
import { Notice } from '../../../components/index.ts';
import { DifferencesTable } from '../../compared/index.ts';
import { figureKey } from '../comparison/index.ts';

interface Props {
  lines: CandidateLine[];
  letters: Map<string, string>;
}

/** Each candidate less the first, on the same patients out of fold. */
export function Differences({ lines, letters }: Props) {
  const [base, ...others] = lines;
  const answers = useQueries({
    queries: others.map((line) => ({
      queryKey: ['comparison', ...[line, base].flatMap(figureKey)],
      queryFn: () =>
        ask(candidateRoutes.compare, { candidate: line.id }, { query: { with: base.id } }),
      staleTime: Infinity,
    })),
  });
  const failed = answers.find(({ error }) => error);
  if (failed) return <Notice>{messageOf(failed.error)}</Notice>;
  const found = answers.flatMap(({ data }) => (data ? [data] : []));
  if (found.length < others.length) return <p role="status">Drawing patients anew</p>;
  return (
    <DifferencesTable
      {...{ lines, letters, found }}
      who={(patients) =>
        `${plural(patients, 'development patient')} out of fold${found[0].times === 1 ? '; AUC of all folds together' : ''}`
      }
    />
  );
}
