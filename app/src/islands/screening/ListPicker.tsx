import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { showCount } from '../../browser/format.ts';
import { ConfirmDelete } from '../../components/index.ts';
import styles from './Screening.module.css';

interface Props {
  cohorts: CohortInfo[];
  scored: Set<string>;
  chosen?: string;
  onChoose: (id: string) => void;
  onDelete: (list: CohortInfo) => void;
}

/** The lists brought in so far. */
export function ListPicker({ cohorts, scored, chosen, onChoose, onDelete }: Props) {
  const [deleting, setDeleting] = useState<CohortInfo>();
  return (
    <>
      <ul className={styles.lists}>
        {cohorts.map((cohort) => (
          <li key={cohort.id} className={cohort.id === chosen ? styles.chosenList : undefined}>
            <button
              type="button"
              data-list={cohort.id}
              aria-pressed={cohort.id === chosen}
              onClick={() => onChoose(cohort.id)}
            >
              <strong>{cohort.name}</strong>
              <span className="quiet">
                {showCount(cohort.rowCount)}, {scored.has(cohort.id) ? 'scored' : 'not scored'}
              </span>
            </button>
            {cohort.id === chosen && (
              <button
                type="button"
                className={styles.bin}
                aria-label={`Delete ${cohort.name}`}
                title="Delete"
                onClick={() => setDeleting(cohort)}
              >
                <Trash2 size={14} aria-hidden="true" />
              </button>
            )}
          </li>
        ))}
      </ul>
      {deleting && (
        <ConfirmDelete
          name={deleting.name}
          onDelete={() => onDelete(deleting)}
          onClose={() => setDeleting(undefined)}
        >
          The list of {showCount(deleting.rowCount)} patients and its scores go. The study and its
          candidates stay.
        </ConfirmDelete>
      )}
    </>
  );
}
