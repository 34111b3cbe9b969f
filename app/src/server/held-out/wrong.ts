import type { Model } from '@rook-scale/core/model';
import { caseScores, casesOf, type Outcome } from '@rook-scale/core/outcome';
import type { WrongShown } from '../../contract/looks.ts';
import { casesInForce, keptPredictions } from '../candidates/index.ts';
import { loadTable, namesOfRows } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { onThread } from '../threads/index.ts';
import { heldOutPatients, type LookedAtFit } from './patients.ts';

/** Who of the held-out patients a candidate calls wrongly at a cutoff, and what they share. */
export async function wrongPatients(
  studyId: string,
  fit: LookedAtFit,
  cutoff: number,
): Promise<WrongShown> {
  const { candidate, cohort, rows } = await heldOutPatients(studyId, fit);
  const { predictions, outcome } = await keptPredictions(candidate.id, 'held out');
  const design = await currentDesign(studyId);
  const cases = casesInForce(candidate.outcome!, design?.choices);
  const names = cohort.dictionary.flatMap(({ name, role, kind }) =>
    role === 'predictor' && kind !== 'text' ? [name] : [],
  );
  const told = await onThread('wrong', {
    table: await loadTable(cohort, names),
    names,
    rows,
    events: casesOf(outcome, cases),
    scores: caseScores(predictions, cases),
    cutoff,
  });
  const nameOf = await namesOfRows(cohort);
  const placeOf = new Map(Array.from(rows, (row, place) => [row, place]));
  const { choice } = candidate.outcome!;
  const entry = cohort.dictionary.find(({ name }) => name === choice.column);
  const observed = observedOf(outcome, choice, entry?.levels);
  return {
    ...told,
    cohort: cohort.id,
    patients: told.patients.map((patient) => ({
      ...patient,
      name: nameOf(patient.row),
      observed: observed(placeOf.get(patient.row)!),
    })),
  };
}

/** What happened to the patient at a place, in the outcome's own words. */
function observedOf(
  outcome: Outcome,
  choice: Model['outcome']['choice'],
  levels: string[] = [],
): (place: number) => string {
  if (outcome.kind === 'levels') return (place) => outcome.levels[outcome.values[place]];
  if (outcome.kind === 'number') return (place) => String(outcome.values[place]);
  const event = choice.kind === 'event' ? choice.event : 'case';
  const others = levels.filter((level) => level !== event);
  const other = others.length === 1 ? others[0] : `not ${event}`;
  return (place) => (outcome.values[place] === 1 ? event : other);
}
