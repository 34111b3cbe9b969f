import { eq } from 'drizzle-orm';
import {
  packOutcome,
  packPredictions,
  unpackOutcome,
  unpackPredictions,
} from '@rook-scale/core/outcome';
import type { SealedView } from '../contract/looks.ts';
import {
  candidateCutoff,
  candidateName,
  candidateRow,
  casesInForce,
  clustersOfPredictions,
  fittedCandidate,
  keptPredictions,
  ownCosts,
  pack,
} from './candidates/index.ts';
import { recordAct } from './acts/index.ts';
import { currentDesign } from './design-in-force.ts';
import type { PatientCosts } from '@rook-scale/core/measures';
import { developmentCohort } from './cohorts/index.ts';
import { asKept, rowsShown, standingOf } from './seen-patients.ts';
import { asBytes, asFloats } from './files/index.ts';
import { atOnce, db, inTurn, tables } from './ground/database/index.ts';
import { Problem } from './ground/problem.ts';
import { announce } from './jobs/index.ts';

const { sealedOpening } = tables;

/** What the sealed patients of a study said; null while nobody has opened them. */
export async function sealedView(studyId: string): Promise<SealedView | null> {
  const [found] = await db().select().from(sealedOpening).where(eq(sealedOpening.studyId, studyId));
  if (!found) return null;
  const { candidateId, candidateName: name, reason, at, cutoff, predicted, header, costs } = found;
  const judged = {
    predictions: unpackPredictions({ header, bytes: found.values }),
    outcome: unpackOutcome({ header, bytes: found.outcome }),
  };
  return {
    candidateId,
    candidateName: name,
    reason,
    at: at.toISOString(),
    cutoff,
    predicted,
    ...(await standingNow(studyId, found)),
    predictions: pack(
      judged,
      predicted.cases,
      costs ? asCosts(costs) : undefined,
      1,
      await clustersWhenOpened(candidateId, judged.outcome.values.length),
    ),
  };
}

/**
 * Opens the sealed patients with one candidate, for a reason that is kept beside what they said. It happens once in a study, whatever is split anew
 * afterwards: a second time would choose between two answers.
 */
export async function openSealed(
  studyId: string,
  candidateId: string,
  reason: string,
): Promise<SealedView> {
  await inTurn(studyId, async () => {
    const known = await sealedView(studyId);
    if (known?.candidateId === candidateId) return;
    if (known)
      throw new Problem(
        409,
        'opened',
        `The sealed patients were opened with ${known.candidateName} already. They open once.`,
      );
    const candidate = await fittedCandidate(candidateId);
    if (candidate.studyId !== studyId) throw nothingSealed();
    const design = await currentDesign(studyId);
    const [judged, cutoff, own] = await Promise.all([
      keptPredictions(candidateId, 'sealed').catch(() => {
        throw nothingSealed();
      }),
      candidateCutoff(candidate),
      design && ownCosts(candidate, design.choices, 'sealed'),
    ]);
    const { outcome } = candidate.model;
    const said = packPredictions(judged.predictions);
    const happened = packOutcome(judged.outcome);
    await atOnce(async () => {
      await db()
        .insert(sealedOpening)
        .values({
          studyId,
          candidateId,
          candidateName: candidateName(candidate),
          reason,
          predicted: { ...outcome, cases: casesInForce(outcome, design?.choices) },
          cutoff,
          header: { ...said.header, ...happened.header },
          values: asBytes(said.bytes),
          outcome: asBytes(happened.bytes),
          costs: own && Buffer.concat([asBytes(own.missed), asBytes(own.falseAlarm)]),
          ...asKept(await rowsShown(candidate.designId, 'sealed')),
        });
      await recordAct(studyId, `sealed patients opened with ${candidateName(candidate)}`);
      await announce(studyId);
    });
  });
  return (await sealedView(studyId))!;
}

/** How the patients who were opened stand to the split in force. */
async function standingNow(
  studyId: string,
  opened: Pick<typeof sealedOpening.$inferSelect, 'cohortId' | 'rows'>,
): Promise<Pick<SealedView, 'standing'>> {
  const [design, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!design?.divisionId || !cohort) return {};
  const [standing] = await standingOf(cohort, design.divisionId, [opened], 'sealed');
  return standing ? { standing } : {};
}

/** Clusters of the sealed patients, while the fit that opened them is there and they are the same. */
async function clustersWhenOpened(
  candidateId: string | null,
  patients: number,
): Promise<Int32Array | undefined> {
  if (!candidateId) return undefined;
  const codes = await clustersOfPredictions(await candidateRow(candidateId), 'sealed');
  return codes?.length === patients ? codes : undefined;
}

function asCosts(bytes: Buffer): PatientCosts {
  const both = asFloats(bytes);
  const count = both.length / 2;
  return { missed: both.slice(0, count), falseAlarm: both.slice(count) };
}

const nothingSealed = () =>
  new Problem(
    409,
    'nothing-sealed',
    'This candidate was fitted while no patients were sealed. Fit it again on the design in force.',
  );
