import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { display, type ColumnSummary, type DictionaryEntry } from '@rook-scale/core/table';
import { type CohortInfo, cohortRoutes } from '../../contract/cohorts.ts';
import { ask } from '../../browser/api.ts';
import { uploadRoutes } from '../../contract/uploads.ts';
import { mendDesign, putDictionary } from '../../browser/edits.ts';
import { toastError } from '../../browser/toast.ts';
import { Button } from '../../components/index.ts';
import { LevelsDialog } from '../review/index.ts';

interface Props {
  cohort: CohortInfo;
  outcome: DictionaryEntry;
}

/** Whole numbers in a short range may be codes: named here, they are levels at once. */
export function CodesToLevels({ cohort, outcome }: Props) {
  const [naming, setNaming] = useState(false);
  const { data: upload } = useQuery({
    queryKey: ['upload', cohort.uploadId],
    queryFn: () => ask(uploadRoutes.review, { upload: cohort.uploadId }),
    enabled: naming,
    staleTime: Infinity,
  });
  const tally = upload?.columns.find((column) => column.tally.name === outcome.name)?.tally;
  const take = async (entry: DictionaryEntry) => {
    const levels = entry.levels ?? [];
    try {
      const { dictionary } = await ask(cohortRoutes.info, { cohort: cohort.id });
      // The role is what it is by now: the page may not have heard yet that it is the outcome.
      const mine = dictionary.map((one) =>
        one.name === entry.name ? { ...entry, role: one.role } : one,
      );
      await putDictionary(cohort.id, dictionary, mine);
    } catch (error) {
      toastError(error);
      return;
    }
    // From the design that follows from the levels, not from the one that is shown still.
    await mendDesign(
      cohort.studyId,
      (design) => ({ ...design, kind: 'levels', reference: levels[0] ?? '' }),
      `${display(outcome)}: its numbers are levels now`,
    );
  };
  return (
    <>
      <Button look="link" onClick={() => setNaming(true)}>
        Its numbers are codes of levels
      </Button>
      {naming && tally && (
        <LevelsDialog
          entry={asLevels(outcome)}
          tally={tally}
          onChange={(entry) => void take(entry)}
          onClose={() => setNaming(false)}
        />
      )}
    </>
  );
}

/** More different numbers than this are no codes. */
const mostCodes = 20;

/** Whether a column of numbers could be one of codes: whole ones, close together. */
export function mayBeCodes(entry: DictionaryEntry, { numbers }: ColumnSummary): boolean {
  if (!numbers || entry.formula) return false;
  const { least, greatest, median } = numbers;
  return [least, greatest, 2 * median].every(Number.isInteger) && greatest - least < mostCodes;
}

function asLevels({ plausible: _, format: __, ...entry }: DictionaryEntry): DictionaryEntry {
  return { ...entry, kind: 'ordered category', unit: '' };
}
