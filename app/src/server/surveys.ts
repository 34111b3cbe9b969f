import { createHash } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { findEvents, side, type Design } from '@rook-scale/core/design';
import type { Finding, OutcomeKnown } from '@rook-scale/core/survey';
import type { Table } from '@rook-scale/core/table';
import { cohortFingerprint, developmentCohort, loadTable, type CohortInfo } from './cohorts.ts';
import { db, tables } from './database/index.ts';
import { currentDesign, type DesignState } from './design-state.ts';
import { announce, requestSurvey } from './jobs/index.ts';

/** What was noticed in a study's patients, and whether that is about what is in force now. */
export interface SurveyView {
  findings: Finding[];
  current: boolean;
}

/** When each study was last asked for; a page that waits asks again, but not with every look. */
const asked = new Map<string, { key: string; at: number }>();
const askAgainAfter = 20_000;

export async function surveyView(studyId: string): Promise<SurveyView> {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort) return { findings: [], current: true };
  const key = surveyKey(cohort, design);
  const [kept] = await db().select().from(tables.survey).where(eq(tables.survey.studyId, studyId));
  if (kept?.key === key) return { findings: kept.findings, current: true };
  const last = asked.get(studyId);
  if (last?.key !== key || Date.now() - last.at > askAgainAfter) {
    asked.set(studyId, { key, at: Date.now() });
    await requestSurvey(studyId);
  }
  return { findings: kept?.findings ?? [], current: false };
}

/** The worker's part: the patients, and a function that keeps what was found in them. */
export async function surveyWork(studyId: string) {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort) return undefined;
  const key = surveyKey(cohort, design);
  const table = await loadTable(cohort);
  const outcome = design ? await outcomeKnown(table, design) : undefined;
  const keep = async (findings: Finding[]) => {
    const values = { studyId, key, findings, at: new Date() };
    await db()
      .insert(tables.survey)
      .values(values)
      .onConflictDoUpdate({ target: tables.survey.studyId, set: values });
    await announce(studyId);
  };
  return { table, outcome, keep };
}

async function outcomeKnown(table: Table, design: DesignState): Promise<OutcomeKnown | undefined> {
  if (!design.divisionId) return undefined;
  const { outcome, event } = design.choices;
  const [division] = await db()
    .select({ sides: tables.division.sides })
    .from(tables.division)
    .where(eq(tables.division.id, design.divisionId));
  const rows: number[] = [];
  division.sides.forEach((value, row) => value === side.development && rows.push(row));
  return { name: outcome, events: findEvents(table, { outcome, event }), rows };
}

function surveyKey(cohort: CohortInfo, design: DesignState | undefined): string {
  const about = (choices: Design) => {
    const { outcome, event, heldOutShare, seed } = choices;
    return [outcome, event, heldOutShare, seed];
  };
  return createHash('sha256')
    .update(
      JSON.stringify([
        cohortFingerprint(cohort),
        design?.divisionId ? about(design.choices) : null,
      ]),
    )
    .digest('hex');
}
