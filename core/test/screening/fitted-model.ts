import { familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { predictionsOf, readOutcome, type OutcomeChoice } from '../../src/outcome/index.ts';
import { choosePredictors } from '../../src/preparation/index.ts';
import { describePredictors, scoreRows, type Model } from '../../src/model/index.ts';
import { fitPart } from '../../src/tuning/index.ts';
import { loadTable } from '../reference/load.ts';

const names = ['age', 'lwt', 'race', 'smoke', 'ptl', 'ht', 'ui', 'ftv'];

/** Logistic regression, or another family, of low birth weight on all 189 mothers of Hosmer & Lemeshow (1989). */
export function fittedModel(id = 'logistic', settings: Settings = {}) {
  const table = loadTable('birthwt', (dictionary) => {
    for (const entry of dictionary) if (entry.name === 'race') entry.kind = 'category';
  });
  const choice: OutcomeChoice = { kind: 'event', column: 'low', event: 'yes' };
  const rows = Int32Array.from({ length: table.rowCount }, (_, row) => row);
  const columns = choosePredictors(table, names);
  const filled = settingsSchema(familyOf(id).description.settings).parse(settings);
  const recipe = { family: id, settings: filled, seed: 1 };
  const events = readOutcome(table, choice);
  const part = { name: 'all', learnRows: rows, predictRows: rows };
  const fit = fitPart(part, columns, events, recipe);
  const model: Model = {
    format: 'rook-scale model',
    version: 4,
    study: 'test',
    candidate: 'Logistic regression 1',
    outcome: { choice, label: '', unit: '', cases: { kind: 'event' } },
    development: { patients: 189, events: 59 },
    predictors: describePredictors(table, names, rows),
    sources: [],
    preparation: fit.preparation,
    family: { id, settings: filled, saved: fit.model },
  };
  const { risks } = predictionsOf(scoreRows(model, columns, rows.length).predictions, 'event');
  return { table, model, fit, risksOf: (row: number) => risks[row] };
}
