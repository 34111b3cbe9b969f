import { corrected } from '../balancing/index.ts';
import { reviveFamily, scoreRows, type Model } from '../model/index.ts';
import { caseScores, readScore, type CaseRule, type Predictions } from '../outcome/index.ts';
import { applyToEach } from '../preparation/index.ts';
import type { Ask, AskAltered } from './ask.ts';

/** Asks a model, and has scores as they are read: a risk, a share of cases, or the number itself. */
export const askOf =
  (model: Model, cases: CaseRule): Ask =>
  (columns, rowCount) =>
    asRead(scoreRows(model, columns, rowCount).predictions, cases);

/** The same about several alternatives at once; undefined where that is no faster. */
export function askAlteredOf(model: Model, cases: CaseRule): AskAltered | undefined {
  const fitted = reviveFamily(model);
  if (!fitted.predictAltered) return undefined;
  return (columns, alternatives, rowCount) => {
    const rows = Int32Array.from({ length: rowCount }, (_, row) => row);
    const [inputs, ...altered] = applyToEach(model.preparation, [columns, ...alternatives], rows);
    return fitted.predictAltered!(inputs, altered).map((predictions) =>
      asRead(corrected(predictions, model.correction), cases),
    );
  };
}

const asRead = (predictions: Predictions, cases: CaseRule): Float64Array =>
  caseScores(predictions, cases).map((score) => readScore(score, cases));
