import { caseRule, columnsOfCosts, fitKey, type Design } from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { SidesView } from '../../contract/designs.ts';
import { cohortFingerprint, developmentCohort, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { onThread } from '../threads/index.ts';
import { divisionOf } from '../division-of.ts';

interface Divided {
  sides: Uint8Array;
  folds: Uint8Array;
}

/** Who is on which side of the design in force, and how alike they are; null while it is open. */
export async function sidesView(studyId: string): Promise<SidesView | null> {
  const [state, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!state?.divisionId || !cohort) return null;
  const { divisionId, choices, patients } = state;
  const division = () => divisionOf(divisionId);
  // From before it was kept whose division it is.
  if (patients === null) return workOut(cohort, choices, division);
  // Design and patients of two moments do not belong together; the page asks again after a change.
  if (patients !== cohortFingerprint(cohort)) return null;
  return sidesFor(cohort, choices, division);
}

/** Has it worked out while a change is still being written: its page asks next. */
export function beginSides(cohort: CohortInfo, design: Design, divided: Divided): void {
  // Whoever asks is told what went wrong.
  sidesFor(cohort, design, () => Promise.resolve(divided)).catch(() => undefined);
}

/** What was worked out last, or is being; each is a few thousand numbers. */
const known = new Map<string, Promise<SidesView>>();
const mostKnown = 8;

function sidesFor(
  cohort: CohortInfo,
  design: Design,
  division: () => Promise<Divided>,
): Promise<SidesView> {
  const key = keyOf(cohort, design);
  const there = known.get(key);
  if (there) return there;
  const view = workOut(cohort, design, division);
  known.set(key, view);
  view.catch(() => known.delete(key));
  const oldest = known.keys().next();
  if (known.size > mostKnown && !oldest.done) known.delete(oldest.value);
  return view;
}

/** Equal where the same comes out. */
function keyOf(cohort: CohortInfo, design: Design): string {
  const { predictors, missedCost, falseAlarmCost, ownCosts } = design;
  return JSON.stringify([
    cohortFingerprint(cohort),
    fitKey(design),
    predictors,
    caseRule(design),
    [missedCost, falseAlarmCost, ownCosts.missed, ownCosts.falseAlarm],
  ]);
}

async function workOut(
  cohort: CohortInfo,
  design: Design,
  division: () => Promise<Divided>,
): Promise<SidesView> {
  const along = design.split.way === 'by date' ? design.split.column : null;
  const [{ sides, folds }, table] = await Promise.all([
    division(),
    loadTable(cohort, [
      design.outcome,
      ...design.predictors,
      ...columnsOfCosts(design),
      ...(along === null ? [] : [along]),
    ]),
  ]);
  return onThread('sides', {
    table,
    design,
    along,
    sides: Uint8Array.from(sides),
    folds: Uint8Array.from(folds),
  });
}
