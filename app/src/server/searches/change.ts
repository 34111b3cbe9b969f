import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { designFor, preparedBy, type Basis } from '@rook-scale/core/design';
import { familyOf, settingsSchema, type Settings } from '@rook-scale/core/families';
import { mostTried, settingsCloser, type SearchPlan } from '@rook-scale/core/search';
import type { ChosenFrom } from '../../contract/searches.ts';
import {
  candidateNumber,
  checkBasis,
  insertCandidate,
  recordMade,
  knownFamily,
  refuseComposed,
  readyDesign,
  refuseKind,
} from '../candidates/index.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { Problem } from '../ground/problem.ts';
import { recordAct } from '../acts/index.ts';
import { announce, callOff, requestSearch } from '../jobs/index.ts';
import { isCurrent } from './lines.ts';
import { pairsOfFolds } from './pairs.ts';
import { addPieces, fitsOf, partNames } from './pieces.ts';
import { learnedIn, triedSettings } from './plan.ts';
import { selectionOf } from './selection.ts';
import { foldsOf, measureFor, searchName, searchRow, trialsOf, type SearchRow } from './store.ts';

const { search, trial, searchPiece } = tables;

/** Predictions that are kept of one search at most: 800 megabytes. */
const mostKept = 100e6;

/** Makes a search and asks for its work. */
export async function addSearch(
  studyId: string,
  family: string,
  plan: SearchPlan,
  basis: Basis = {},
): Promise<string> {
  const { description } = knownFamily(family);
  refuseComposed(family);
  return inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    refuseKind([family], design.choices);
    checkBasis(basis, design.choices);
    measureFor(design.choices.kind, plan.measure);
    const tried = triedSettings(
      description,
      plan,
      designFor(design.choices, basis),
      learnedIn(design),
    );
    refuseTooMuch(tried.length, design.counts!.development.patients);
    return atOnce(async () => {
      const [{ id }] = await db()
        .insert(search)
        .values({
          studyId,
          designId: design.id,
          number: await candidateNumber(studyId),
          family,
          plan,
          basis,
        })
        .returning({ id: search.id });
      await addTrials(id, tried, 0);
      await requestSearch(id);
      await recordAct(studyId, `${searchName(await searchRow(id))} begun`, {
        ...{ kind: 'presence', made: true, things: [{ what: 'search', id }] },
      });
      await announce(studyId);
      return id;
    });
  });
}

/** Ends the work at a search; what was fitted stays. */
export async function stopSearch(id: string): Promise<void> {
  const [stopped] = await db()
    .update(search)
    .set({ state: 'stopped', run: sql`${search.run} + 1`, endedAt: sql`now()` })
    .where(and(eq(search.id, id), inArray(search.state, ['waiting', 'running'])))
    .returning({ studyId: search.studyId });
  if (!stopped) return;
  await callOff(id);
  await announce(stopped.studyId);
}

/** Goes on where it was stopped. On another design than it was made on, everything is fitted anew. */
export async function goOnWithSearch(id: string): Promise<void> {
  const { studyId } = await searchRow(id);
  await inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    const row = await searchRow(id);
    if (row.state === 'waiting' || row.state === 'running') return;
    refuseKind([row.family], design.choices);
    checkBasis(row.basis, design.choices);
    const isAnew = !(await isCurrent(row, design));
    if (isAnew) refuseTooMuch((await trialsOf(id)).length, design.counts!.development.patients);
    await atOnce(async () => {
      if (isAnew) {
        await db().delete(searchPiece).where(eq(searchPiece.searchId, id));
        // What it compares may be of other predictors, or of other patients, now.
        const { description } = familyOf(row.family);
        const isOfAll = row.plan.fewer ?? row.plan.growing;
        const tried = isOfAll
          ? triedSettings(
              description,
              row.plan,
              designFor(design.choices, row.basis),
              learnedIn(design),
            )
          : (await trialsOf(id)).map(({ settings }) => settings);
        await db().delete(trial).where(eq(trial.searchId, id));
        await addTrials(id, tried, 0);
      }
      await recordAct(studyId, `${searchName(row)} continued`);
      await wait(row, {
        ...(isAnew && {
          designId: design.id,
          shares: null,
          round: 0,
          workTotal: 0,
          workDone: 0,
          best: null,
          judgedBy: null,
          nested: false,
        }),
      });
    });
  });
}

/** Judges what was fitted by the costs and cases in force; what was left in an earlier round has no figures then. */
export async function judgeSearch(id: string): Promise<void> {
  const { studyId } = await searchRow(id);
  await inTurn(studyId, async () => {
    const row = await searchRow(id);
    if (row.state === 'waiting' || row.state === 'running') await stopSearch(id);
    await atOnce(async () => {
      await db()
        .update(trial)
        .set({ judgedRound: -1, figures: null })
        .where(and(eq(trial.searchId, id), isNull(trial.problem)));
      await recordAct(studyId, `${searchName(row)} judged anew`);
      await wait(row, { best: null, judgedBy: null });
    });
  });
}

/** Adds finer values around one of the settings, and fits only these. */
export async function lookCloser(id: string, number: number): Promise<{ added: number }> {
  const { studyId } = await searchRow(id);
  return inTurn(studyId, async () => {
    const row = await searchRow(id);
    const design = await readyDesign(studyId);
    if (row.plan.fewer ?? row.plan.growing)
      throw new Problem(409, 'nothing-finer', 'Only settings are looked at more closely.');
    if (row.state !== 'done')
      throw new Problem(
        409,
        'not-finished',
        'Look closer when the search is finished: not all of its first settings are fitted.',
      );
    if (!(await isCurrent(row, design)))
      throw new Problem(
        409,
        'other-design',
        'The design has changed since. Search again on the new one, then look closer.',
      );
    const trials = await trialsOf(id);
    const around = trialNumbered(trials, number);
    const { settings: fields } = familyOf(row.family).description;
    const known = trials.map(({ settings }) => settings);
    const closer = settingsCloser(fields, known, around.settings);
    if (closer.length === 0)
      throw new Problem(409, 'nothing-finer', 'There are no finer values around these settings.');
    if (known.length + closer.length > mostTried)
      throw new Problem(
        409,
        'too-many',
        `A search tries at most ${mostTried.toLocaleString('en')} settings, and this one has them.`,
      );
    refuseTooMuch(known.length + closer.length, design.counts!.development.patients);
    await atOnce(async () => {
      await recordAct(studyId, `finer values in ${searchName(row)}`);
      const added = await addTrials(id, closer, known.length);
      const folds = await foldsOf(row);
      const parts = [
        ...partNames(folds),
        ...(row.nested ? pairsOfFolds(folds).map(({ name }) => name) : []),
      ];
      await addPieces(row, added, row.round, parts);
      await wait(row, {
        workTotal: row.workTotal + fitsOf(row.family, closer) * parts.length,
      });
    });
    return { added: closer.length };
  });
}

/** Makes a candidate of one of the settings, which remembers where it was chosen. */
export async function chooseFromSearch(
  id: string,
  number: number,
  how: ChosenFrom['how'],
  measure: string,
): Promise<string> {
  const { studyId } = await searchRow(id);
  return inTurn(studyId, async () => {
    const row = await searchRow(id);
    const design = await readyDesign(studyId);
    refuseKind([row.family], design.choices);
    checkBasis(row.basis, design.choices);
    const { name } = measureFor(design.choices.kind, measure);
    const trials = await trialsOf(id);
    const { settings, problem, figures } = trialNumbered(trials, number);
    if (problem) throw new Problem(409, 'cannot-be-fitted', problem);
    const among = trials.filter((one) => one.figures).length;
    const { fewer, fixed, growing } = row.plan;
    if (growing)
      throw new Problem(
        409,
        'no-choice',
        'A candidate is fitted on all patients: add it by itself.',
      );
    const what = fewer
      ? { settings: schemaOf(row.family).parse(fixed), basis: await basisOf(row, number) }
      : { settings, basis: row.basis };
    checkBasis(what.basis, design.choices);
    const inside = fewer && { way: fewer.way, inside: figures?.[measure] };
    return atOnce(async () => {
      const made = await insertCandidate(studyId, design.id, {
        family: row.family,
        ...what,
        searchId: id,
        chosen: {
          how,
          search: searchName(row),
          among,
          measure: name,
          ...(inside && { fewer: inside }),
        },
      });
      await recordMade(studyId, [made]);
      await announce(studyId);
      return made;
    });
  });
}

const schemaOf = (family: string) => settingsSchema(familyOf(family).description.settings);

/** What a candidate of one of the sets of predictors is fitted on. */
async function basisOf(row: SearchRow, number: number): Promise<Basis> {
  const { sets, predictors } = await selectionOf(row);
  if (!sets)
    throw new Problem(
      409,
      'not-ranked',
      'The predictors are not ranked on all patients yet. Wait until they are, or go on with the search.',
    );
  const own = sets[number];
  if (own.length === predictors.length) return row.basis;
  return { ...preparedBy(row.basis), own };
}

async function addTrials(
  searchId: string,
  settings: Settings[],
  from: number,
): Promise<{ number: number; settings: Settings }[]> {
  const rows = settings.map((one, i) => ({ searchId, number: from + i, settings: one }));
  for (let at = 0; at < rows.length; at += 1000)
    await db()
      .insert(trial)
      .values(rows.slice(at, at + 1000));
  return rows;
}

/** Has it wait for a worker, as part of the change at hand. */
export async function wait(
  row: SearchRow,
  changes: Partial<typeof search.$inferInsert>,
): Promise<void> {
  await db()
    .update(search)
    .set({
      state: 'waiting',
      problem: null,
      endedAt: null,
      startedAt: null,
      heartbeatAt: null,
      ...changes,
      workBefore: changes.workDone ?? row.workDone,
      run: sql`${search.run} + 1`,
    })
    .where(eq(search.id, row.id));
  // What a worker had in hand when it was stopped.
  await db()
    .update(searchPiece)
    .set({ claimedBy: null, claimedAt: null })
    .where(and(eq(searchPiece.searchId, row.id), isNull(searchPiece.doneAt)));
  await requestSearch(row.id);
  await announce(row.studyId);
}

function trialNumbered<One extends { number: number }>(trials: One[], number: number): One {
  const found = trials[number];
  if (found) return found;
  throw new Problem(404, 'no-trial', 'These settings are not among those of the search.');
}

function refuseTooMuch(settings: number, patients: number): void {
  if (settings * patients <= mostKept) return;
  throw new Problem(
    409,
    'too-much',
    `${settings.toLocaleString('en')} settings on ${patients.toLocaleString('en')} patients are too much to keep. Draw at most ${Math.floor(mostKept / patients).toLocaleString('en')} of them.`,
  );
}
