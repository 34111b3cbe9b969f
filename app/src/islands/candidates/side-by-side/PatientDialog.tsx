import { useQuery } from '@tanstack/react-query';
import { ask, messageOf } from '../../../browser/api.ts';
import { useDictionary } from '../../../browser/dictionary.ts';
import type { DifferingShown } from '../../../contract/candidates.ts';
import { cohortRoutes } from '../../../contract/cohorts.ts';
import { Button, Dialog, DialogActions, Notice } from '../../../components/index.ts';
import { scoreText } from './differing-words.ts';
import styles from './SideBySide.module.css';

interface Props {
  studyId: string;
  cohort: string;
  patient: DifferingShown['patients'][number];
  marks: [string, string];
  names: [string, string];
  onClose: () => void;
}

/** One patient: what is known of them, what happened, and what both candidates said out of fold. */
export function PatientDialog({ studyId, cohort, patient, marks, names, onClose }: Props) {
  const { row, name, isCase, calledBy, scores } = patient;
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
      <p>
        {isCase ? 'A case' : 'Not a case'}. Only {marks[calledBy]}, {names[calledBy]}, calls them
        in: {marks[0]} gave {scoreText(scores[0])}, {marks[1]} {scoreText(scores[1])}, each out of
        fold.
      </p>
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
        <Button look="main" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
