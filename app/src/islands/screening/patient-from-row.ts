import { modelInputs, type PatientValues } from '@rook-scale/core/screening';
import { convert, isCoded } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { PatientSheet } from '../../contract/patients.ts';

/** A row of a list as the model's values, its columns matched as for the list; what the list lacks is not known. */
export function valuesFromRow(
  sheet: PatientSheet,
  { dictionary, matching }: Pick<CohortInfo, 'dictionary' | 'matching'>,
  cells: string[],
): PatientValues {
  return Object.fromEntries(
    modelInputs(sheet).map(({ name, kind, levels = [] }): [string, number | string | null] => {
      const match = matching.find(({ predictor }) => predictor === name);
      const column = match?.column ?? name;
      const place = dictionary.findIndex((entry) => entry.name === column);
      const cell = place < 0 ? '' : cells[place];
      if (cell === '') return [name, null];
      if (isCoded(kind)) {
        const level = match?.levels?.find(({ from }) => from === cell)?.to ?? cell;
        return [name, levels.includes(level) ? level : null];
      }
      const number = kind === 'date' ? Date.parse(cell) / 86_400_000 : Number(cell);
      if (Number.isNaN(number)) return [name, null];
      return [name, match?.conversion ? convert(number, match.conversion) : number];
    }),
  );
}
