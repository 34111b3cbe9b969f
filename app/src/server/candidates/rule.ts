import {
  deriveColumn,
  DerivedColumnError,
  columnReferences,
  FormulaError,
} from '@rook-scale/core/formula';
import { ruleObstacle, type Given } from '@rook-scale/core/families';
import { sourcesOf } from '@rook-scale/core/screening';
import type { CutoffRule } from '@rook-scale/core/measures';
import type { Design } from '@rook-scale/core/design';
import {
  display,
  summarise,
  type Column,
  type DictionaryEntry,
  type Table,
} from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { developmentCohort, loadTable } from '../cohorts/index.ts';
import { Problem } from '../ground/problem.ts';
import { sharedColumn } from '../shared-arrays.ts';

/**
 * A table with the outcome and what a rule gives: a column of the cohort where the rule is one, else
 * a derived column of its own, which a model carries to later cohorts like any other. A Problem says
 * why it cannot be worked out.
 */
export async function tableWithRule(
  cohort: CohortInfo,
  formula: string,
  others: string[],
): Promise<{ table: Table; names: string[] }> {
  const reads = readsOf(formula);
  const column = cohort.dictionary.find(({ name }) => name === reads[0]);
  if (column && isColumnAlone(formula, column.name)) {
    const sources = sourcesOf([column.name], cohort.dictionary);
    const table = await loadTable(cohort, [...others, column.name, ...sources]);
    return { table, names: [column.name] };
  }
  const rule = ruleEntry(formula, cohort.dictionary);
  const sources = sourcesOf([rule.name], [...cohort.dictionary, rule]);
  const table = await loadTable(cohort, [...others, ...sources]);
  try {
    const derived = deriveColumn(rule, table);
    return {
      table: {
        rowCount: table.rowCount,
        dictionary: [...table.dictionary, derived.entry],
        columns: [...table.columns, sharedColumn(derived.column)],
      },
      names: [rule.name],
    };
  } catch (error) {
    if (!(error instanceof DerivedColumnError)) throw error;
    throw noRule(error.fault);
  }
}

/**
 * Refuses a rule that cannot stand for the outcome, in a sentence; else gives the cutoff that it
 * means. What says yes or a level is a call already, and a number calls in from the case value on:
 * only of a risk is the cutoff still open.
 */
export async function checkRule(
  studyId: string,
  formula: string,
  design: Design,
): Promise<CutoffRule> {
  const cohort = await developmentCohort(studyId);
  if (!cohort) throw new Problem(409, 'no-development', 'Bring in a development cohort first.');
  const outcome = cohort.dictionary.find(({ name }) => name === design.outcome);
  const { table, names } = await tableWithRule(cohort, formula, [design.outcome]);
  const read = [...names, ...sourcesOf(names, table.dictionary)];
  if (read.includes(design.outcome))
    throw noRule(
      `The rule reads ${outcome ? display(outcome) : design.outcome}, which is what is to be predicted: it is not known yet when somebody is to be called in.`,
    );
  const place = table.dictionary.findIndex(({ name }) => name === names[0]);
  const { kind } = design;
  const given = givenBy(table.columns[place]);
  const why = ruleObstacle(given, { kind, levels: outcome?.levels });
  if (why) throw noRule(why);
  if (kind === 'number') {
    const { caseFrom, caseSide } = design;
    return { rule: 'hand', cutoff: caseSide === 'from' ? caseFrom! : -caseFrom! };
  }
  return given.type === 'coded' ? { rule: 'hand', cutoff: 0.5 } : { rule: 'cheapest' };
}

function readsOf(formula: string): string[] {
  try {
    return columnReferences(formula);
  } catch (error) {
    if (error instanceof FormulaError) throw noRule(error.message);
    throw error;
  }
}

const isColumnAlone = (formula: string, name: string) =>
  [name, `{${name}}`].includes(formula.trim());

/** Under a name that no column has. */
function ruleEntry(formula: string, dictionary: DictionaryEntry[]): DictionaryEntry {
  const taken = new Set(dictionary.map(({ name }) => name));
  let name = 'today’s rule';
  while (taken.has(name)) name += ' ′';
  return {
    name,
    label: '',
    unit: '',
    kind: 'number',
    role: 'predictor',
    missingCodes: [],
    formula,
  };
}

function givenBy(column: Column): Given {
  if (column.type === 'text') return { type: 'text' };
  const { counts, numbers } = summarise(column);
  if (column.type === 'coded')
    return { type: 'coded', levels: column.levels.filter((_, code) => (counts?.[code] ?? 0) > 0) };
  return { type: 'number', ...(numbers && { range: [numbers.least, numbers.greatest] }) };
}

const noRule = (sentence: string) => new Problem(422, 'no-rule', sentence);
