import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { ask, messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { cohortRoutes } from '../../contract/cohorts.ts';
import { Button, Dialog, DialogActions, Notice } from '../../components/index.ts';
import styles from './PatientList.module.css';

interface Props {
  studyId: string;
  cohort: string;
  /** In the cohort, from 0. */
  row: number;
  name: string;
  /** Whose reasons are asked for, for what is said of the patient. */
  candidate: string;
  /** What was said of them, and what happened. */
  children: ReactNode;
  onClose: () => void;
}

/** One patient of a list: what is known of them. */
export function PatientDialog({ studyId, cohort, row, name, candidate, children, onClose }: Props) {
  const { dictionary, labelOf } = useDictionary(studyId);
  const { data, error } = useQuery({
    queryKey: ['patient row', cohort, row],
    queryFn: () => ask(cohortRoutes.rows, { cohort }, { query: { from: row, count: 1 } }),
  });
  const cells = data?.rows[0];
  const shown = dictionary.flatMap((entry, place) =>
    entry.role === 'predictor' || entry.role === 'outcome' ? [{ entry, place }] : [],
  );
  return (
    <Dialog title={`Patient ${name}`} wide onClose={onClose}>
      <p>{children}</p>
      {error && <Notice>{messageOf(error)}</Notice>}
      {!cells && !error && <p role="status">Reading the patient</p>}
      {cells && (
        <table className={styles.patient}>
          <caption className="hidden">What is known of {name}</caption>
          <tbody>
            {shown.map(({ entry, place }) => (
              <tr key={entry.name}>
                <th scope="row">
                  {labelOf(entry.name)}
                  {entry.role === 'outcome' && <span className="quiet"> (outcome)</span>}
                </th>
                <td>
                  {cells[place] || <span className="quiet">not known</span>}
                  {cells[place] && entry.unit ? ` ${entry.unit}` : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <DialogActions>
        <a href={`/studies/${studyId}/reasons?candidate=${candidate}&row=${row + 1}#patient`}>
          Why?
        </a>
        <Button look="main" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
