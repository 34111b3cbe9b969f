import { scoreRows, type Model } from '../model/index.ts';
import { caseScores, readScore, type CaseRule } from '../outcome/index.ts';
import type { Ask } from './ask.ts';

/** Asks a model, and has scores as they are read: a risk, a share of cases, or the number itself. */
export const askOf =
  (model: Model, cases: CaseRule): Ask =>
  (columns, rowCount) =>
    caseScores(scoreRows(model, columns, rowCount).predictions, cases).map((score) =>
      readScore(score, cases),
    );
