import { createHash } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import { caseRule, columnsOfDependence, defaultDesign, type Design } from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { DesignState } from '../../contract/designs.ts';
import type { SurveyRequest, SurveyView } from '../../contract/surveys.ts';
import { cohortFingerprint, developmentCohort } from '../cohorts/index.ts';
import { db, tables } from '../ground/database/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { requestSurvey } from '../jobs/index.ts';
import { partName } from './request.ts';
import { checkLook } from './rows-at-hand.ts';

/** When each part was last asked for; a page that waits asks again, but not with every look. */
const asked = new Map<string, { key: string; at: number }>();
const askAgainAfter = 20_000;

/** A part of the survey as far as it is there. */
export async function surveyView(studyId: string, request: SurveyRequest): Promise<SurveyView> {
  return (await look(studyId, request)).view;
}

/** The same, and has it worked out where it is not about what is in force. */
export async function askSurvey(studyId: string, request: SurveyRequest): Promise<SurveyView> {
  const { view, key } = await look(studyId, request);
  if (view.current) return view;
  const place = `${studyId} ${partName(request)}`;
  const last = asked.get(place);
  if (last?.key !== key || Date.now() - last.at > askAgainAfter) {
    asked.set(place, { key, at: Date.now() });
    await requestSurvey(studyId, request);
  }
  return view;
}

async function look(
  studyId: string,
  request: SurveyRequest,
): Promise<{ view: SurveyView; key: string }> {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort)
    return { key: '', view: { result: null, current: true, sampled: null, problem: null } };
  if ('look' in request) await checkLook(studyId, request.look);
  const key = surveyKey(cohort, design, request);
  const { surveyPart } = tables;
  const name = partName(request);
  const [kept] = await db()
    .select()
    .from(surveyPart)
    .where(and(eq(surveyPart.studyId, studyId), eq(surveyPart.part, name)));
  const mine = kept?.key === key;
  if (mine && kept.sampled === null)
    return {
      key,
      view: { result: kept.result, current: true, sampled: null, problem: kept.problem },
    };
  const sampled = mine ? kept.sampled : null;
  return { key, view: { result: kept?.result ?? null, current: false, sampled, problem: null } };
}

/** The columns that say which rows belong together; nothing where there are none, as before they were asked about. */
function dependence(cohort: CohortInfo, design: Pick<Design, 'split' | 'folds'>): string[][] {
  const { identifiers, groupings } = columnsOfDependence(cohort, design);
  return identifiers.length + groupings.length > 0 ? [[...identifiers, '', ...groupings]] : [];
}

/** Cells from which a survey is begun before anybody asks for it. */
const longSurvey = 2_000_000;

/**
 * Has the columns of a large cohort, and their relation to the outcome, worked out as soon as there
 * is something new to say, so that the page need not wait for them.
 */
export async function beginSurvey(studyId: string): Promise<void> {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort || cohort.rowCount * cohort.dictionary.length < longSurvey) return;
  await askSurvey(studyId, { part: 'columns' });
  const against = design?.choices.outcome;
  if (against) await askSurvey(studyId, { part: 'relations', against });
}

/** Raised when other things are looked for in a table. */
const findingsVersion = 2;

/** Changes when the part could say something else. */
export function surveyKey(
  cohort: CohortInfo,
  design: DesignState | undefined,
  request: SurveyRequest,
): string {
  const about = ({ outcome, event, heldOutShare, seed, split, sealedShare }: Design) => [
    outcome,
    event,
    heldOutShare,
    seed,
    // By chance and nothing sealed has the key that it had before there were other ways.
    ...(split.way === 'by chance' && !split.within && sealedShare === 0
      ? []
      : [split, sealedShare]),
  ];
  const { part } = request;
  const mapped = part === 'patients' || part === 'associations' || part === 'unusual';
  return createHash('sha256')
    .update(
      JSON.stringify([
        partName(request),
        cohortFingerprint(cohort),
        design?.divisionId ? about(design.choices) : null,
        mapped ? (design?.choices.predictors ?? null) : null,
        ...(part === 'relations' ? dependence(cohort, design?.choices ?? defaultDesign) : []),
        ...(part === 'findings' ? [findingsVersion] : []),
        ...(part === 'unusual' && design?.divisionId ? [caseRule(design.choices)] : []),
      ]),
    )
    .digest('hex');
}
