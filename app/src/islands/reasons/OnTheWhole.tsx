import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes } from '../../contract/reasons.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { plural, showPercent } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';
import { Button, IntervalStrip, Notice, SavedTable } from '../../components/index.ts';
import styles from './Reasons.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
}

/** Rows that are shown before one asks for all. */
const firstRows = 8;

/** How much each predictor adds for patients, whichever way, and what its splits gained. */
export function OnTheWhole({ studyId, line }: Props) {
  const [isAll, setAll] = useState(false);
  const { labelOf } = useDictionary(studyId);
  const { data: found, error } = useQuery({
    queryKey: ['on the whole', line.id, line.fittedAt],
    queryFn: () => ask(reasonRoutes.onTheWhole, { candidate: line.id }),
    staleTime: Infinity,
  });
  if (error) return <Notice>{messageOf(error)}</Notice>;
  if (!found) return <p role="status">Adding up what predictors add</p>;
  const { predictors, own, scale, way, patients } = found;
  const most = Math.max(1e-12, ...predictors.map(({ size }) => size));
  const head = scale === 'log-odds' ? 'Mean size, log-odds' : 'Mean size';
  const figure = (size: number) => (size >= 10 ? showDigits(size, 4) : showFixed(size, 3));
  return (
    <>
      <h3>What predictors add</h3>
      <SavedTable
        fileName="what-predictors-add"
        rows={() => [
          ['predictor', head.toLowerCase(), ...(own ? ['share of gains'] : [])],
          ...predictors.map(({ name, size, gained }) => [
            labelOf(name),
            size,
            ...(own ? [gained ?? ''] : []),
          ]),
        ]}
      >
        <table className={styles.table} aria-label="What predictors add on the whole">
          <thead>
            <tr>
              <th scope="col">Predictor</th>
              <th scope="col">{head}</th>
              <th scope="col" className={styles.strip} aria-hidden="true" />
              {own && (
                <th scope="col" title="Of what all splits of its trees gained">
                  Share of gains
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {predictors.slice(0, isAll ? undefined : firstRows).map(({ name, size, gained }) => (
              <tr key={name}>
                <th scope="row">{labelOf(name)}</th>
                <td>{figure(size)}</td>
                <td className={styles.strip} aria-hidden="true">
                  <IntervalStrip value={size} from={0} to={most} beside={0} ticks={[]} />
                </td>
                {own && <td>{showPercent(gained ?? 0)}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      </SavedTable>
      {predictors.length > firstRows && (
        <p>
          <Button look="link" onClick={() => setAll(!isAll)}>
            {isAll ? `Only the first ${firstRows}` : `All ${predictors.length}`}
          </Button>
        </p>
      )}
      <p className="quiet">
        Mean size of what each adds or takes away in {plural(patients, 'development patient')},{' '}
        {way === 'drawn' ? 'drawn by chance' : 'exactly'}: how much it moves what is said, whether
        or not that is right.
        {own && ' Shares of gains are the trees’ own account of what they were grown by.'}
      </p>
    </>
  );
}
