import { useState, type SyntheticEvent } from 'react';
import { columnReference } from '@rook-scale/core/formula';
import { display } from '@rook-scale/core/table';
import { ask, messageOf } from '../../../browser/api.ts';
import { cohortRoutes, type CohortInfo } from '../../../contract/cohorts.ts';
import { Button } from '../../../components/index.ts';
import styles from './Tree.module.css';

/** A patient whose way through the tree is shown. */
export interface Patient {
  who: string;
  /** By name of the column, as text; empty where it is not known. */
  cells: Record<string, string>;
}

interface Props {
  studyId: string;
  patient: Patient | undefined;
  onPatient: (patient: Patient | undefined) => void;
}

/** Asks for a patient by identifier, or by row where there is none. */
export function PatientWay({ studyId, patient, onPatient }: Props) {
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<string>();
  const find = async (event: SyntheticEvent) => {
    event.preventDefault();
    setProblem(undefined);
    try {
      const found = await findPatient(studyId, text.trim());
      onPatient(found);
      if (!found) setProblem(`No patient “${text.trim()}” here.`);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <form className={styles.patient} onSubmit={(event) => void find(event)}>
      <label>
        Way of patient{' '}
        <input
          value={text}
          size={10}
          placeholder="who, or row"
          onChange={({ target }) => setText(target.value)}
        />
      </label>
      <Button type="submit" disabled={text.trim() === ''}>
        Show
      </Button>
      {patient && (
        <Button look="link" onClick={() => onPatient(undefined)}>
          no patient
        </Button>
      )}
      {problem && <span role="alert">{problem}</span>}
    </form>
  );
}

async function findPatient(studyId: string, text: string): Promise<Patient | undefined> {
  const cohort = await ask(cohortRoutes.development, { study: studyId });
  if (!cohort) return undefined;
  const query = queryFor(cohort, text);
  if (!query) return undefined;
  const { rows } = await ask(cohortRoutes.rows, { cohort: cohort.id }, { query });
  if (!rows[0]) return undefined;
  const cells = Object.fromEntries(cohort.dictionary.map(({ name }, j) => [name, rows[0][j]]));
  const identifier = identifierOf(cohort);
  return { who: identifier ? `${display(identifier)} ${text}` : `Row ${text}`, cells };
}

const identifierOf = ({ dictionary }: CohortInfo) =>
  dictionary.find(({ role }) => role === 'identifier');

function queryFor(cohort: CohortInfo, text: string) {
  const identifier = identifierOf(cohort);
  if (!identifier) {
    const row = Number(text.replaceAll(',', ''));
    return Number.isInteger(row) && row >= 1 ? { from: row - 1, count: 1 } : undefined;
  }
  const value = identifier.kind === 'number' ? text.replaceAll(',', '') : `'${text}'`;
  return { from: 0, count: 1, where: `${columnReference(identifier.name)} = ${value}` };
}
