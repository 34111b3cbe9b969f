import { modelInputs, type PatientValues } from '@rook-scale/core/screening';
import { isCoded, type Dictionary } from '@rook-scale/core/table';
import type { PatientSheet } from '../../contract/patients.ts';

/** A row of a list as the model's values; what the list lacks is not known. */
export function valuesFromRow(
  sheet: PatientSheet,
  dictionary: Dictionary,
  cells: string[],
): PatientValues {
  return Object.fromEntries(
    modelInputs(sheet).map(({ name, kind, levels = [] }): [string, number | string | null] => {
      const place = dictionary.findIndex((entry) => entry.name === name);
      const cell = place < 0 ? '' : cells[place];
      if (cell === '') return [name, null];
      if (isCoded(kind)) return [name, levels.includes(cell) ? cell : null];
      const number = kind === 'date' ? Date.parse(cell) / 86_400_000 : Number(cell);
      return [name, Number.isNaN(number) ? null : number];
    }),
  );
}
