import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { familyOf, settingsSchema, type Family, type Settings } from '@rook-scale/core/families';
import { designFor, DesignError, type Basis, type Design } from '@rook-scale/core/design';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { cutoffRuleSchema, nobodyCutoff, type CutoffRule } from '@rook-scale/core/measures';
import type { DesignState } from '../../contract/designs.ts';
import type { BlendPart } from '../../contract/candidates.ts';
import type { ChosenFrom } from '../../contract/searches.ts';
import { currentDesign } from '../design-in-force.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { recordAct } from '../acts/index.ts';
import { Problem } from '../ground/problem.ts';
import { same } from '../ground/same.ts';
import { announce, callOff, fitNext, requestFit } from '../jobs/index.ts';
import { keepResults } from './judge.ts';
import { checkRule } from './rule.ts';
import { sameFit, type CarriedOut } from './same-fit.ts';
import { candidateName, candidateRow } from './store.ts';
import { currentVersion } from './versions.ts';

/** Makes a candidate and asks for its fit. */
export async function addCandidate(
  studyId: string,
  family: string,
  settings: Settings,
  basis: Basis = {},
): Promise<string> {
  const checked = checkSettings(family, settings);
  refuseComposed(family);
  return inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    refuseKind([family], design.choices);
    checkBasis(basis, design.choices);
    const cutoffRule = familyOf(family).description.fixed
      ? await checkRule(studyId, String(checked.formula), design.choices)
      : undefined;
    return atOnce(async () => {
      const id = await insertCandidate(studyId, design.id, {
        family,
        settings: checked,
        basis,
        cutoffRule,
      });
      await recordMade(studyId, [id]);
      await announce(studyId);
      return id;
    });
  });
}

/** Makes a candidate of each family, with the settings that it begins with, in one act. */
export async function addSeveral(
  studyId: string,
  families: string[],
  basis: Basis = {},
): Promise<string[]> {
  const checked = [...new Set(families)].map((family) => ({
    family,
    settings: usualSettings(family),
  }));
  return inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    refuseKind(families, design.choices);
    checkBasis(basis, design.choices);
    return atOnce(async () => {
      const ids: string[] = [];
      for (const one of checked)
        ids.push(await insertCandidate(studyId, design.id, { ...one, basis }));
      await recordMade(studyId, ids);
      await announce(studyId);
      return ids;
    });
  });
}

function usualSettings(family: string): Settings {
  const { fixed, name } = knownFamily(family).description;
  refuseComposed(family);
  if (fixed)
    throw new Problem(409, 'no-usual', `${name} has no usual settings: it is written by itself.`);
  return checkSettings(family, {});
}

/** Writes down that candidates were made, as part of the change at hand. */
export async function recordMade(studyId: string, ids: string[]): Promise<void> {
  const names = (await Promise.all(ids.map(candidateRow))).map(candidateName);
  const what = names.length > 3 ? `${names.length} candidates` : names.join(', ');
  const things = ids.map((id) => ({ what: 'candidate' as const, id }));
  await recordAct(studyId, `${what} made`, { kind: 'presence', made: true, things });
}

/** Writes a candidate and asks for its fit, as part of the change at hand. */
export async function insertCandidate(
  studyId: string,
  designId: string,
  what: {
    family: string;
    settings: Settings;
    basis?: Basis;
    parts?: BlendPart[];
    cutoffRule?: CutoffRule;
    searchId?: string;
    chosen?: ChosenFrom;
  },
): Promise<string> {
  const [{ id }] = await db()
    .insert(tables.candidate)
    .values({
      studyId,
      designId,
      number: await candidateNumber(studyId),
      ...what,
      cutoffRule: what.cutoffRule ?? { rule: 'cheapest' },
    })
    .returning({ id: tables.candidate.id });
  await requestFit(id);
  return id;
}

/** The next number; they come from the study's own row, so that two at once never get the same. */
export async function candidateNumber(studyId: string): Promise<number> {
  const [{ made }] = await db()
    .update(tables.study)
    .set({ candidatesMade: sql`${tables.study.candidatesMade} + 1` })
    .where(eq(tables.study.id, studyId))
    .returning({ made: tables.study.candidatesMade });
  return made - 1;
}

/** Names of kept predictors and preparations must be there, and leave something to learn from. */
export function checkBasis(basis: Basis, choices: Design): void {
  try {
    if (designFor(choices, basis).predictors.length > 0) return;
  } catch (error) {
    if (error instanceof DesignError) throw new Problem(409, 'not-kept', error.message);
    throw error;
  }
  throw new Problem(409, 'no-predictors', 'There is no predictor among those kept.');
}

function checkSettings(family: string, settings: Settings): Settings {
  return settingsSchema(knownFamily(family).description.settings).parse(settings);
}

export function knownFamily(id: string): Family {
  try {
    return familyOf(id);
  } catch (error) {
    if (error instanceof Error && error.message.startsWith('There is no model family'))
      throw new Problem(400, 'no-family', error.message);
    throw error;
  }
}

/** A family whose candidates are made of others is not asked for by settings alone. */
export function refuseComposed(family: string): void {
  const { composed, name } = knownFamily(family).description;
  if (composed)
    throw new Problem(400, 'no-parts', `${name}: choose the candidates that it is made of.`);
}

const kindWords: { [K in OutcomeKind]: string } = {
  event: 'a yes or no',
  levels: 'several levels',
  number: 'a number',
};

/** A family is only fitted to a kind of outcome that it can predict. */
export function refuseKind(families: string[], { kind }: Design): void {
  for (const id of families) {
    const { name, outcomes } = familyOf(id).description;
    if (outcomes.includes(kind)) continue;
    throw new Problem(
      409,
      'other-kind',
      `${name} cannot predict ${kindWords[kind]}. Choose another family, or another outcome in Design.`,
    );
  }
}

export async function readyDesign(studyId: string): Promise<DesignState> {
  const design = await currentDesign(studyId);
  if (design?.divisionId) return design;
  const why = design?.obstacle ?? design?.questions.join(' ') ?? 'Bring in a development cohort.';
  throw new Problem(409, 'design-open', `The design is not complete. ${why}`);
}

/** The reference candidate is there from the moment the design can be carried out, and follows it. */
export async function ensureReference(
  studyId: string,
  design: CarriedOut & { id: string },
): Promise<void> {
  const [existing] = await db()
    .select({
      id: tables.candidate.id,
      choices: tables.design.choices,
      fitKey: tables.design.fitKey,
      patients: tables.division.patients,
    })
    .from(tables.candidate)
    .innerJoin(tables.design, eq(tables.design.id, tables.candidate.designId))
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.design.cohortId))
    .leftJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(
      and(
        eq(tables.candidate.studyId, studyId),
        eq(tables.candidate.family, 'reference'),
        isNull(tables.cohort.deletedAt),
      ),
    );
  const reference = { family: 'reference', settings: {} };
  if (!existing) await insertCandidate(studyId, design.id, reference);
  else if (!sameFit({ ...reference, basis: {} }, existing, design))
    await refit([existing.id], design.id);
}

/** Fits these candidates again on the design in force; their old results stay readable until then. */
export async function refitCandidates(studyId: string, ids: string[]): Promise<void> {
  await inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    const { candidate } = tables;
    const own = await db()
      .select()
      .from(candidate)
      .where(
        and(
          eq(candidate.studyId, studyId),
          isNull(candidate.deletedAt),
          inArray(candidate.id, ids),
        ),
      );
    refuseKind(
      own.flatMap(({ family, parts }) => [...(parts ?? []).map((part) => part.family), family]),
      design.choices,
    );
    await atOnce(async () => {
      await refit(
        own.map((row) => row.id),
        design.id,
      );
      await recordAct(
        studyId,
        own.length === 1
          ? `${candidateName(own[0])} fitted again`
          : `${own.length} candidates fitted again`,
      );
      await announce(studyId);
    });
  });
}

async function refit(ids: string[], designId: string): Promise<void> {
  if (ids.length === 0) return;
  await db()
    .update(tables.candidate)
    .set({
      state: 'waiting',
      designId,
      partsDone: 0,
      partsBegun: 0,
      learning: null,
      problem: null,
      startedAt: null,
      heartbeatAt: null,
      fitRun: sql`${tables.candidate.fitRun} + 1`,
    })
    .where(inArray(tables.candidate.id, ids));
  // After the candidates themselves, as a worker does that ends a fit: else the two could wait for each other.
  await db().delete(tables.fitPart).where(inArray(tables.fitPart.candidateId, ids));
  for (const id of ids) await requestFit(id);
}

/** Has a fit that waits begin before all others. */
export async function fitBeforeOthers(id: string): Promise<void> {
  const { studyId } = await candidateRow(id);
  if (!(await fitNext(id)))
    throw new Problem(409, 'not-waiting', 'This fit does not wait any more. Nothing was changed.');
  await announce(studyId);
}

/** Stops a fit that waits or runs. A result from before stays. */
export async function cancelFit(id: string): Promise<void> {
  const [cancelled] = await db()
    .update(tables.candidate)
    .set({
      state: 'cancelled',
      fitRun: sql`${tables.candidate.fitRun} + 1`,
      // The end of it, for the queue.
      heartbeatAt: sql`now()`,
    })
    .where(
      and(eq(tables.candidate.id, id), inArray(tables.candidate.state, ['waiting', 'fitting'])),
    )
    .returning({ studyId: tables.candidate.studyId });
  if (!cancelled) return;
  await callOff(id);
  await announce(cancelled.studyId);
}

export async function setCutoffRule(id: string, rule: CutoffRule): Promise<void> {
  const { studyId, family, outcome } = await candidateRow(id);
  if (family === 'reference' && rule.rule !== 'cheapest')
    throw new Problem(
      409,
      'reference-cutoff',
      'The reference candidate gives every patient the same risk: its cutoff is always the cheapest.',
    );
  if (rule.rule === 'hand' && outcome?.choice.kind !== 'number')
    if (rule.cutoff < 0 || rule.cutoff > nobodyCutoff)
      throw new Problem(400, 'no-share', 'A cutoff on risks or shares lies between 0 and 1.');
  await inTurn(studyId, () =>
    atOnce(async () => {
      const before = await candidateRow(id);
      if (same(before.cutoffRule, rule)) return;
      if (before.fittedAt) await currentVersion(before);
      await db()
        .update(tables.candidate)
        .set({ cutoffRule: cutoffRuleSchema.parse(rule) })
        .where(eq(tables.candidate.id, id));
      await recordAct(studyId, `cutoff of ${candidateName(before)}`, {
        ...{ kind: 'value', of: 'cutoff', id, before: before.cutoffRule, after: rule },
      });
      await keepResults(studyId);
      await announce(studyId);
    }),
  );
}
