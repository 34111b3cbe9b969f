import { and, eq, sql } from 'drizzle-orm';
import { caseRule, inTurns, outcomeChoice, patientCosts } from '@rook-scale/core/design';
import {
  casesOf,
  packOutcome,
  packPredictions,
  takeOutcome,
  takePredictions,
  unpackPredictions,
  type Predictions,
} from '@rook-scale/core/outcome';
import { choosePredictors } from '@rook-scale/core/preparation';
import {
  describePredictors,
  learnSurroundings,
  packModel,
  type Model,
} from '@rook-scale/core/model';
import { sourcesOf } from '@rook-scale/core/screening';
import { packArrays, unpackArrays } from '@rook-scale/core/stored';
import {
  collectOutOfFold,
  planParts,
  stepsFor,
  type FitPart,
  type FitPartResult,
} from '@rook-scale/core/tuning';
import {
  candidateName,
  clustersAmong,
  clustersIn,
  costsOf,
  resultsKey,
} from '../../../server/candidates/index.ts';
import { clustersOf, judgeOutOfFold, type Judged } from '@rook-scale/core/measures';
import { familyOf, type FitWarning, type LossCurve } from '@rook-scale/core/families';
import { loadDevelopment, recipeOn, type Development } from '../../../server/development.ts';
import { atOnce, db, passesByItself, tables } from '../../../server/ground/database/index.ts';
import { asBytes } from '../../../server/files/index.ts';
import { announce } from '../../../server/jobs/index.ts';
import type { FitTask } from '../../compute.ts';
import { sentenceOf } from '../sentence.ts';
import { thinned } from './learning.ts';
import { preparationsOf } from './preparations.ts';
import { takeDesignInForce } from './take-design.ts';
import { counter, endPart, partsBegun, tellProgress } from './progress.ts';
import type { WorkerThreads } from '../../threads.ts';

const unexpected =
  'The fit stopped on an error that we did not foresee. The data are safe; fit it again.';

/** Fits all parts of a claimed candidate, keeps each as it is done, and puts the whole together. */
export async function fitCandidate(
  candidateId: string,
  run: number,
  threads: WorkerThreads,
  signal: AbortSignal,
): Promise<void> {
  const own = and(eq(tables.candidate.id, candidateId), eq(tables.candidate.fitRun, run));
  try {
    await takeDesignInForce(candidateId, run);
    const work = await loadWork(candidateId);
    const kept = await keptParts(candidateId);
    const tasks = work.tasks.filter(({ part }) => !kept.some(({ name }) => name === part.name));
    const results = [...kept];
    await db()
      .update(tables.candidate)
      .set({ partsTotal: work.tasks.length, partsDone: kept.length, partsBegun: 0, learning: null })
      .where(own);
    await announce(work.studyId);
    let learning: LossCurve | undefined;
    const stopTelling = tellProgress(tasks, async (parts) => {
      // A part that ends meanwhile counts what is left by itself.
      const asCounted = eq(tables.candidate.partsDone, results.length);
      await db()
        .update(tables.candidate)
        .set({ partsBegun: parts, ...(learning && { learning: thinned(learning) }) })
        .where(and(own, asCounted));
      await announce(work.studyId);
    });
    const fitting = threads.fit(
      tasks,
      async (result) => {
        results.push(result);
        endPart(tasks, result.name);
        work.preparations?.keep(result.name, result.preparation);
        await keepPart(candidateId, run, result);
        await db()
          .update(tables.candidate)
          .set({
            partsDone: results.length,
            partsBegun: partsBegun(tasks),
            heartbeatAt: sql`now()`,
          })
          .where(own);
        await announce(work.studyId);
      },
      signal,
      (curve) => {
        learning = curve;
      },
    );
    await fitting.finally(stopTelling);
    const fitted = assemble(work, results);
    await atOnce(async () => {
      const [still] = await db()
        .update(tables.candidate)
        .set(fitted.line)
        .where(own)
        .returning({ id: tables.candidate.id });
      if (still) {
        await keepFit(candidateId, fitted);
        await db().delete(tables.fitPart).where(eq(tables.fitPart.candidateId, candidateId));
      }
      await announce(work.studyId);
    });
  } catch (error) {
    if (signal.aborted) return;
    // The fit is as good as before: without a heartbeat it is taken up again, kept parts included.
    if (passesByItself(error)) throw error;
    // Asked for anew meanwhile: what this one met, half of it the other's, is nobody's business.
    const [still] = await db()
      .select({ id: tables.candidate.id })
      .from(tables.candidate)
      .where(own);
    if (!still) return;
    const [failed] = await db()
      .update(tables.candidate)
      .set({ state: 'failed', problem: sentenceOf(error, 'fit', unexpected) })
      .where(and(own, eq(tables.candidate.state, 'fitting')))
      .returning({ studyId: tables.candidate.studyId });
    if (failed) await announce(failed.studyId);
  }
}

interface Work extends Development {
  studyId: string;
  studyName: string;
  candidate: typeof tables.candidate.$inferSelect;
  tasks: FitTask[];
  /** Cluster of each row of the cohort, where rows of one patient or group are several. */
  clusters?: Int32Array;
  /** What was learned for other candidates, and may be used by them; absent where nothing is prepared. */
  preparations?: ReturnType<typeof preparationsOf>;
}

async function loadWork(candidateId: string): Promise<Work> {
  const [found] = await db()
    .select({ candidate: tables.candidate, study: tables.study })
    .from(tables.candidate)
    .innerJoin(tables.study, eq(tables.study.id, tables.candidate.studyId))
    .where(eq(tables.candidate.id, candidateId));
  if (!found) throw new Error('The candidate is gone.');
  const { candidate, study } = found;
  const ground = await loadDevelopment(candidate);
  const { divisionId, cohort, design, table, names, outcome, folds } = ground;
  const { developmentRows, heldOutRows, sealedRows } = ground;
  const predictors = choosePredictors(table, names);
  const { description } = familyOf(candidate.family);
  const recipe = recipeOn(ground, candidate.family, candidate.settings, candidate.parts);
  const preparations =
    description.blind || description.asTheyAre
      ? undefined
      : preparationsOf(divisionId, cohort, design, names, stepsFor(description, recipe));
  const clusters = await clustersIn(cohort, design);
  return {
    ...ground,
    studyId: study.id,
    studyName: study.name,
    candidate,
    clusters,
    tasks: longestFirst(planParts(developmentRows, folds, joined(heldOutRows, sealedRows))).map(
      (part) => ({
        part,
        predictors,
        outcome,
        recipe: clusters ? { ...recipe, clusters } : recipe,
        known: preparations?.learned(part.name),
        done: counter(),
      }),
    ),
    preparations,
  };
}

/** The model itself learns from most patients: begun last, it would be waited for alone. */
const longestFirst = (parts: FitPart[]): FitPart[] =>
  parts.toSorted((a, b) => b.learnRows.length - a.learnRows.length);

async function keptParts(candidateId: string): Promise<FitPartResult[]> {
  const rows = await db()
    .select()
    .from(tables.fitPart)
    .where(eq(tables.fitPart.candidateId, candidateId));
  return rows.map(({ name, result, arrays, header, values }) => ({
    name,
    ...result,
    model: { ...result.model, arrays: unpackArrays(result.model.arrays, arrays) },
    predictions: unpackPredictions({ header, bytes: values }),
  }));
}

/**
 * Keeps a part, unless the fit was asked for anew meanwhile: whoever asks deletes the parts there are,
 * and one that came after would be taken for one of the new fit. The candidate's row is held, so that
 * either of the two waits for the other.
 */
async function keepPart(candidateId: string, run: number, part: FitPartResult): Promise<void> {
  const { name, predictions, model, ...result } = part;
  const { layout, bytes: arrays } = packArrays(model.arrays);
  const { header, bytes } = packPredictions(predictions);
  const { id, fitRun } = tables.candidate;
  await atOnce(async () => {
    const [own] = await db()
      .select({ id })
      .from(tables.candidate)
      .where(and(eq(id, candidateId), eq(fitRun, run)))
      .for('share');
    if (!own) return;
    await db()
      .insert(tables.fitPart)
      .values({
        candidateId,
        name,
        result: { ...result, model: { ...model, arrays: layout } },
        arrays: asBytes(arrays),
        header,
        values: asBytes(bytes),
      })
      .onConflictDoNothing();
  });
}

function joined(a: Int32Array, b: Int32Array): Int32Array {
  const both = new Int32Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}

interface Assembled {
  line: Partial<typeof tables.candidate.$inferInsert>;
  model: Model;
  folds: Uint8Array;
  times: number;
  facets: FitPartResult['facets'];
  outOfFold: Judged;
  heldOut: Judged;
  /** Absent where nothing is sealed. */
  sealed?: Judged;
}

function assemble(work: Work, results: FitPartResult[]): Assembled {
  const { developmentRows, heldOutRows, sealedRows, outcome, folds, design } = work;
  const whole = results.find((result) => result.name === 'all');
  if (!whole) throw new Error('The fit on all development patients is missing.');
  const { cutoffRule } = work.candidate;
  const fittedAt = new Date();
  const judged = (rows: Int32Array, predictions: Predictions) =>
    ({ outcome: takeOutcome(outcome, rows), predictions }) as Judged;
  const times = folds.length / developmentRows.length;
  const predictedRows = inTurns(developmentRows, times);
  const outOfFold = judged(predictedRows, collectOutOfFold(folds, results));
  const setAside = (predictions: Predictions) => {
    const places = Int32Array.from({ length: heldOutRows.length + sealedRows.length }, (_, i) => i);
    const [first, rest] = [places.slice(0, heldOutRows.length), places.slice(heldOutRows.length)];
    return {
      heldOut: judged(heldOutRows, takePredictions(predictions, first)),
      ...(rest.length > 0 && { sealed: judged(sealedRows, takePredictions(predictions, rest)) }),
    };
  };
  const model = makeModel(work, whole);
  const cases = caseRule(design);
  const own = patientCosts(design, work.table, predictedRows);
  const codes = work.clusters && clustersAmong(work.clusters, developmentRows, times);
  return {
    line: {
      state: 'fitted',
      learning: null,
      problem: null,
      fittedAt,
      results: {
        key: resultsKey(
          { fittedAt, cutoffRule, outcome: model.outcome },
          design,
          own !== undefined,
          codes !== undefined,
        ),
        value: judgeOutOfFold(
          outOfFold,
          cases,
          folds,
          cutoffRule,
          { ...costsOf(design, model.outcome), own },
          times,
          codes && clustersOf(codes),
        ),
      },
      warnings: warningsOf(whole, results),
      outcome: model.outcome,
      apparentArea: whole.apparentArea ?? null,
      size: whole.size ?? null,
      scoreTime: whole.scoreTime ?? null,
      partsDone: results.length,
    },
    model,
    folds,
    times,
    facets: whole.facets,
    outOfFold,
    ...setAside(whole.predictions),
  };
}

/** Puts a fit in the place of the one before, as part of the change at hand. */
async function keepFit(candidateId: string, fitted: Assembled): Promise<void> {
  const { folds, times, facets, outOfFold, heldOut, sealed } = fitted;
  const { json, bytes } = packModel(fitted.model);
  for (const table of [tables.fit, tables.fitFacet, tables.prediction])
    await db().delete(table).where(eq(table.candidateId, candidateId));
  await db()
    .insert(tables.fit)
    .values({ candidateId, model: json, arrays: asBytes(bytes), folds: asBytes(folds), times });
  const shown = facets.map((facet, position) => ({ candidateId, facet, position }));
  if (shown.length > 0) await db().insert(tables.fitFacet).values(shown);
  await db()
    .insert(tables.prediction)
    .values([
      { candidateId, whose: 'out of fold', ...packed(outOfFold) },
      { candidateId, whose: 'held out', ...packed(heldOut) },
      ...(sealed ? [{ candidateId, whose: 'sealed' as const, ...packed(sealed) }] : []),
    ]);
}

function packed({ predictions, outcome }: Judged) {
  const said = packPredictions(predictions);
  const happened = packOutcome(outcome);
  return {
    header: { ...said.header, ...happened.header },
    values: asBytes(said.bytes),
    outcome: asBytes(happened.bytes),
  };
}

/** What is to be said of the fit itself, and of the folds where it says nothing of them. */
function warningsOf(whole: FitPartResult, results: FitPartResult[]): FitWarning[] {
  const isSeparated = ({ warnings }: FitPartResult) =>
    warnings.some(({ code }) => code === 'separation');
  const { warnings } = whole;
  const folds = results.filter((result) => result !== whole);
  const separated = folds.filter(isSeparated).length;
  if (separated === 0 || isSeparated(whole)) return warnings;
  return [
    ...warnings,
    {
      code: 'separation in folds',
      sentence: `In ${separated} of ${folds.length} folds the outcome was separated: without the fold’s patients some inputs tell it with certainty, and out-of-fold risks of nearly 0 or 1 are no estimates there. Use fewer predictors.`,
    },
  ];
}

function makeModel(work: Work, whole: FitPartResult): Model {
  const { design, table, names, developmentRows, outcome, candidate } = work;
  const entry = table.dictionary.find(({ name }) => name === design.outcome);
  const cases = caseRule(design);
  const isCase = casesOf(takeOutcome(outcome, developmentRows), cases);
  const { fixed, blind } = familyOf(candidate.family).description;
  const surroundings =
    fixed || blind ? undefined : learnSurroundings(choosePredictors(table, names), developmentRows);
  return {
    format: 'rook-scale model',
    version: 4,
    study: work.studyName,
    candidate: candidateName(candidate),
    outcome: {
      choice: outcomeChoice(design, table.dictionary),
      label: entry?.label ?? '',
      unit: entry?.unit ?? '',
      ...(outcome.kind === 'levels' && { levels: outcome.levels }),
      cases,
    },
    development: {
      patients: developmentRows.length,
      events: isCase.reduce((sum, one) => sum + one, 0),
    },
    predictors: describePredictors(table, names, developmentRows),
    sources: describePredictors(table, sourcesOf(names, table.dictionary), developmentRows),
    preparation: whole.preparation,
    ...(whole.correction && { correction: whole.correction }),
    ...(surroundings && { surroundings }),
    family: { id: candidate.family, settings: candidate.settings, saved: whole.model },
  };
}
