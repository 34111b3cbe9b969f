import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { display } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { remove } from '../../browser/deletion.ts';
import { mendEntry } from '../../browser/edits.ts';
import { plural, showMoment, showPercent, showSize, showValue } from '../../browser/format.ts';
import { Button, ConfirmDelete } from '../../components/index.ts';
import { Rows } from './Rows.tsx';
import { useFindingNotes } from '../findings/index.ts';
import { PageBody, useOverview } from '../frame/index.ts';
import type { MarginNote } from '../margin/index.ts';
import { DictionaryView } from './DictionaryView.tsx';
import { MendButton } from './MendButton.tsx';
import { PatientsView } from './patients/PatientsView.tsx';
import styles from './Records.module.css';

const views = [
  { id: 'dictionary', name: 'Dictionary' },
  { id: 'rows', name: 'Rows' },
  { id: 'patients', name: 'Who is in' },
];

/** A cohort that is stored: its dictionary, its rows, and who of the file is in. */
export function CohortView({
  cohort,
  onMend,
}: {
  cohort: CohortInfo;
  onMend: () => Promise<void>;
}) {
  const [asked] = useAddress('view');
  const [column] = useAddress('column');
  const view = views.find(({ id }) => id === asked)?.id ?? 'dictionary';
  const { design } = useOverview(cohort.studyId);
  const open = (next: string) =>
    setAddress({
      view: next === 'dictionary' ? undefined : next,
      row: undefined,
      column: undefined,
    });
  const findings = useFindingNotes(cohort.studyId, cohort);
  return (
    <PageBody
      title="Records"
      fact={`${cohort.name}: ${plural(cohort.rowCount, 'patient')}`}
      studyId={cohort.studyId}
      notes={[...findings.notes, ...cohortNotes(cohort)]}
      checking={findings.checking}
      actions={
        <>
          <div className={styles.tabs} role="group" aria-label="What to show">
            {views.map(({ id, name }) => (
              <button key={id} type="button" aria-pressed={view === id} onClick={() => open(id)}>
                {name}
              </button>
            ))}
          </div>
          <MendButton onMend={onMend} />
          <DeleteButton cohort={cohort} />
        </>
      }
    >
      {view === 'dictionary' && (
        <DictionaryView
          cohort={cohort}
          shown={column}
          split={design?.counts != null}
          sealed={design?.counts?.sealed !== undefined}
        />
      )}
      {view === 'rows' && <Rows cohort={cohort} />}
      {view === 'patients' && <PatientsView cohort={cohort} design={design} />}
    </PageBody>
  );
}

function DeleteButton({ cohort }: { cohort: CohortInfo }) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button
        className={styles.bin}
        aria-label="Delete the cohort"
        title="Delete"
        onClick={() => setAsking(true)}
      >
        <Trash2 size={15} aria-hidden="true" />
      </Button>
      {asking && (
        <ConfirmDelete
          name={cohort.name}
          onDelete={() => void remove('cohort', cohort.id, cohort.name)}
          onClose={() => setAsking(false)}
        >
          {plural(cohort.rowCount, 'patient')} go, and with them the design and the candidates that
          were made on them. The screening lists stay.
        </ConfirmDelete>
      )}
    </>
  );
}

function cohortNotes(cohort: CohortInfo): MarginNote[] {
  const { file, dictionary, summaries, rowCount } = cohort;
  const empty = dictionary.filter((_, i) => summaries[i].missing > 0.6 * rowCount);
  const notes: MarginNote[] = [];
  if (empty.length > 0)
    notes.push({
      id: `mostly empty · ${empty.map((entry) => entry.name).join(' ')}`,
      title: 'Mostly empty',
      text: `${empty
        .map(
          (entry) =>
            `${display(entry)} (${showPercent(summaries[dictionary.indexOf(entry)].missing / rowCount)})`,
        )
        .join(', ')} not known in most patients.`,
      acts: [{ label: 'Choose predictors', href: `/studies/${cohort.studyId}/design#predictors` }],
    });
  dictionary.forEach((entry, i) => {
    const { plausible } = entry;
    const { numbers } = summaries[i];
    if (plausible?.beyond !== 'kept' || !numbers) return;
    const { least, most } = plausible;
    const under = least !== null && numbers.least < least;
    const over = most !== null && numbers.greatest > most;
    if (!under && !over) return;
    notes.push({
      id: `beyond plausible · ${entry.name}`,
      title: `${display(entry)} goes beyond its plausible range`,
      text: `It is ${showValue(numbers.least)} to ${showValue(numbers.greatest)}; plausible is ${least === null ? 'up' : showValue(least)} to ${most === null ? 'any height' : showValue(most)}.`,
      acts: [
        {
          label: 'Count values beyond as not known',
          onClick: () =>
            void mendEntry(
              cohort,
              entry.name,
              (one) => ({ ...one, plausible: { ...plausible, beyond: 'not known' } }),
              `${display(entry)}: values beyond its range are not known`,
            ),
        },
      ],
    });
  });
  notes.push({
    id: 'file',
    standing: true,
    title: file.name,
    text: `${showSize(file.size)}, brought in ${showMoment(cohort.createdAt)}. The file is kept as it came; SHA-256 begins with ${file.sha256.slice(0, 12)}.`,
  });
  return notes;
}
