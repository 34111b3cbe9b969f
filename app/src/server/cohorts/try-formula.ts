import { columnReferences, evaluateFormula, FormulaError } from '@rook-scale/core/formula';
import { isMissing, showValue, summarise } from '@rook-scale/core/table';
import type { CohortInfo, FormulaTried } from '../../contract/cohorts.ts';
import { loadStored } from './load.ts';

const examplesShown = 8;

/** Works a formula out on every row of the file, without keeping anything. */
export async function tryFormula(
  cohort: CohortInfo,
  text: string,
  /** A derived column under change, which its own formula cannot read. */
  except?: string,
): Promise<FormulaTried> {
  try {
    const names = columnReferences(text);
    const before = except ? cohort.dictionary.findIndex(({ name }) => name === except) : -1;
    const dictionary = before < 0 ? cohort.dictionary : cohort.dictionary.slice(0, before);
    const loaded = await loadStored(cohort, names.length > 0 ? names : [dictionary[0].name]);
    // Every column is known to the formula, so that a wrong name gets a near one suggested.
    const known = dictionary.map((entry) => entry.name);
    const columns = dictionary.map(
      ({ name }) =>
        loaded.columns[loaded.dictionary.findIndex((entry) => entry.name === name)] ?? {
          type: 'number' as const,
          values: new Float64Array(),
        },
    );
    const table = { rowCount: cohort.storedRows, dictionary, columns };
    const { column, kind } = evaluateFormula(text, table);
    const reads = names.filter((name) => known.includes(name));
    const summary = summarise(column);
    const show = (name: string, row: number) => {
      const place = known.indexOf(name);
      return showValue(columns[place], row, dictionary[place].kind === 'date');
    };
    const yes = column.type === 'coded' && kind === 'yes/no' ? column.levels.indexOf('yes') : -1;
    const chosen = chooseExamples(cohort.storedRows, (row) => !isMissing(column, row));
    return {
      understood: true,
      kind,
      reads,
      summary,
      levels: column.type === 'coded' ? column.levels : null,
      rows: cohort.storedRows,
      examples: chosen.map((row) => ({
        row: row + 1,
        read: reads.map((name) => show(name, row)),
        value: showValue(column, row, kind === 'date'),
      })),
      holds: yes >= 0 && summary.counts ? summary.counts[yes] : null,
    };
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    return { understood: false, sentence: error.message, from: error.from, to: error.to };
  }
}

/** The first rows, with one where nothing comes of it among them if there is any. */
function chooseExamples(rows: number, known: (row: number) => boolean): number[] {
  const first = Array.from({ length: Math.min(rows, examplesShown) }, (_, row) => row);
  if (rows <= examplesShown || !first.every(known)) return first;
  for (let row = examplesShown; row < Math.min(rows, 50_000); row++)
    if (!known(row)) return [...first.slice(0, -1), row];
  return first;
}
