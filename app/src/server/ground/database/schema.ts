import { sql } from 'drizzle-orm';
import {
  type AnyPgColumn,
  bigint,
  bigserial,
  boolean,
  customType,
  doublePrecision,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import {
  designSchema,
  type Allocation,
  type Basis,
  type Design,
  type DivisionCounts,
} from '@rook-scale/core/design';
import type { CrossValidated, CutoffRule } from '@rook-scale/core/measures';
import type { Model, PackedModel } from '@rook-scale/core/model';
import type { Worths } from '@rook-scale/core/reasons';
import type { AlignedPredictor, CallRule, Match } from '@rook-scale/core/screening';
import type { ColumnSummary, ColumnTally, Dictionary } from '@rook-scale/core/table';
import type {
  Facet,
  FitWarning,
  LossCurve,
  ModelSize,
  Saved,
  Settings,
} from '@rook-scale/core/families';
import type { ArrayLayout } from '@rook-scale/core/stored';
import { writeJson } from '@rook-scale/core/stored';
import type { CaseRule, OutcomeHeader } from '@rook-scale/core/outcome';
import type { SearchPlan, TriedFigures } from '@rook-scale/core/search';
import type { FitPartResult } from '@rook-scale/core/tuning';
import { everybody, type Flow, type Selection } from '@rook-scale/core/selection';
import type { BlendPart, CandidateVersion } from '../../../contract/candidates.ts';
import type { Undo } from '../../acts/undo.ts';
import type { Reading, Remark } from '../../../contract/uploads.ts';
import type { SecondFile } from '../../../contract/cohorts.ts';
import type { BestSoFar, ChosenFrom, SearchState } from '../../../contract/searches.ts';
import type { ListFileState } from '../../../contract/screenings.ts';
import type { SurveyResults } from '../../../contract/surveys.ts';

const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
/** JSON in which numbers that are not finite keep their value; `client.ts` reads it. */
const jsonb = customType<{ data: unknown; driverData: string }>({
  dataType: () => 'jsonb',
  toDriver: writeJson,
});
/** Designs from before a choice existed get what it is at first. */
const storedDesign = customType<{ data: Design; driverData: unknown }>({
  dataType: () => 'jsonb',
  fromDriver: (json) => designSchema.parse(json),
  toDriver: (design) => JSON.stringify(designSchema.parse(design)),
});
/** Bytes of a fitted family's arrays; what they are stands in the JSON beside them. */
const arrays = () =>
  bytes()
    .notNull()
    .default(sql`''::bytea`);
const id = () =>
  uuid()
    .primaryKey()
    .default(sql`gen_random_uuid()`);
const moment = () => timestamp({ withTimezone: true, mode: 'date' });
const now = () => moment().notNull().defaultNow();
/** Set when deleted; gone for good a day later. */
const deleted = () => moment();

/** One question: an outcome, the cohorts, the candidates. */
export const study = pgTable(
  'study',
  {
    id: id(),
    name: text().notNull(),
    createdAt: now(),
    openedAt: now(),
    /** The design in force; earlier versions stay in `design`. */
    designId: uuid(),
    /** The number of the revision in force. */
    revision: integer().notNull().default(0),
    /** The candidate that Held-out check, Reasons and Screening begin with. */
    chosenId: uuid().references((): AnyPgColumn => candidate.id, { onDelete: 'set null' }),
    /** How many candidates were ever made; the next one's number. */
    candidatesMade: integer().notNull().default(0),
    deletedAt: deleted(),
  },
  (table) => [index('study_chosen').on(table.chosenId)],
);

/** A file as it was sent, with what one pass over it showed. Kept so that a dictionary can be mended later. */
export const upload = pgTable('upload', {
  id: id(),
  fileName: text().notNull(),
  size: integer().notNull(),
  sha256: text().notNull(),
  reading: jsonb().$type<Reading>().notNull(),
  rowCount: integer().notNull(),
  tallies: jsonb().$type<ColumnTally[]>().notNull(),
  firstRows: jsonb().$type<string[][]>().notNull(),
  remarks: jsonb().$type<Remark[]>().notNull(),
  createdAt: now(),
});

export const uploadChunk = pgTable(
  'upload_chunk',
  {
    uploadId: uuid()
      .notNull()
      .references(() => upload.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    content: bytes().notNull(),
  },
  (table) => [primaryKey({ columns: [table.uploadId, table.position] })],
);

/** A table of patients. */
export const cohort = pgTable(
  'cohort',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    purpose: text().$type<'development' | 'screening'>().notNull(),
    name: text().notNull(),
    uploadId: uuid()
      .notNull()
      .references(() => upload.id),
    /** Patients: rows of the file that the selection leaves in. */
    rowCount: integer().notNull(),
    /** Rows of the file. */
    storedRows: integer().notNull().default(0),
    selection: jsonb().$type<Selection>().notNull().default(everybody),
    flow: jsonb().$type<Flow>().notNull().default({ came: 0, steps: [] }),
    /** A second file whose rows stand below those of the first; the upload is both put together. */
    second: jsonb().$type<SecondFile>(),
    /** Int32 row numbers of the patients; null for all rows. */
    kept: bytes(),
    dictionary: jsonb().$type<Dictionary>().notNull(),
    summaries: jsonb().$type<ColumnSummary[]>().notNull(),
    /** Of a list: its columns that stand for predictors under another name, unit or levels. */
    matching: jsonb().$type<Match[]>().notNull().default([]),
    /** Which set of column chunks is in force; goes up when the file is read again. */
    version: integer().notNull().default(1),
    createdAt: now(),
    deletedAt: deleted(),
  },
  (table) => [
    // A study has one development cohort.
    uniqueIndex('one_development_cohort')
      .on(table.studyId)
      .where(sql`purpose = 'development' and deleted_at is null`),
    index('cohort_study').on(table.studyId),
    index('cohort_upload').on(table.uploadId),
  ],
);

/** Part of a column in a typed binary form: so many rows, of texts so many bytes (see column-bytes.ts). */
export const columnChunk = pgTable(
  'column_chunk',
  {
    cohortId: uuid()
      .notNull()
      .references(() => cohort.id, { onDelete: 'cascade' }),
    version: integer().notNull(),
    columnPosition: integer().notNull(),
    chunkPosition: integer().notNull(),
    /** Row of the file that the chunk begins with. */
    firstRow: integer().notNull(),
    content: bytes().notNull(),
  },
  (table) => [
    primaryKey({
      columns: [table.cohortId, table.version, table.columnPosition, table.chunkPosition],
    }),
  ],
);

/** The exact allocation of patients, stored once made. */
export const division = pgTable(
  'division',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    /** One entry of the core's `side` a row of the cohort. */
    sides: bytes().notNull(),
    /** Fold of each development row, for each time that they are dealt. */
    folds: bytes().notNull(),
    counts: jsonb().$type<DivisionCounts>().notNull(),
    /** Fingerprint of the patients it was made for; absent in divisions from before it was kept. */
    patients: text(),
    createdAt: now(),
  },
  (table) => [index('division_study').on(table.studyId)],
);

/** Who stands where, as a file that was brought in says; designs name it. */
export const allocation = pgTable(
  'allocation',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    /** The name of the file. */
    name: text().notNull(),
    patients: jsonb().$type<Allocation['patients']>().notNull(),
    createdAt: now(),
  },
  (table) => [index('allocation_study').on(table.studyId)],
);

/** The sealed patients of a study, opened: once, with one candidate. */
export const sealedOpening = pgTable(
  'sealed_opening',
  {
    studyId: uuid()
      .primaryKey()
      .references(() => study.id, { onDelete: 'cascade' }),
    /** Absent once the candidate is gone: what was seen stays. */
    candidateId: uuid().references(() => candidate.id, { onDelete: 'set null' }),
    candidateName: text().notNull(),
    /** Why it was done, in the analyst's words; empty in openings from before it was asked. */
    reason: text().notNull().default(''),
    at: now(),
    /** What it predicted and its cutoff then, what a case was, and what happened. */
    predicted: jsonb().$type<Model['outcome']>().notNull(),
    cutoff: doublePrecision().notNull(),
    header: jsonb().$type<OutcomeHeader>().notNull(),
    values: bytes().notNull(),
    outcome: bytes().notNull(),
    /** What errors cost each patient then, missed cases before false alarms; null where the same for all. */
    costs: bytes(),
    /** Who they were: their cohort, and Int32 rows of its file; absent in openings from before it was kept. */
    cohortId: uuid().references(() => cohort.id, { onDelete: 'set null' }),
    rows: bytes(),
  },
  (table) => [
    index('sealed_opening_candidate').on(table.candidateId),
    index('sealed_opening_cohort').on(table.cohortId),
  ],
);

/** Every version of the design; the study points to the one in force. */
export const design = pgTable(
  'design',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    cohortId: uuid()
      .notNull()
      .references(() => cohort.id, { onDelete: 'cascade' }),
    choices: storedDesign().notNull(),
    /** Equal for designs that give the same numbers. */
    fitKey: text().notNull(),
    /** Absent while questions are open. */
    divisionId: uuid().references(() => division.id),
    /** Why the design cannot be carried out on these patients. */
    obstacle: text(),
    createdAt: now(),
  },
  (table) => [
    index('design_study').on(table.studyId),
    index('design_cohort').on(table.cohortId),
    index('design_division').on(table.divisionId),
  ],
);

/** Designs that were kept under a name, to be compared or put in force again. */
export const designVersion = pgTable(
  'design_version',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    choices: storedDesign().notNull(),
    at: now(),
  },
  (table) => [uniqueIndex('design_version_name').on(table.studyId, table.name)],
);

/**
 * What dictionary and design were after each change. The study points to the one in force: undo and
 * redo move along them, and a change after an undo leaves the later ones behind as a record.
 */
export const revision = pgTable(
  'revision',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    cohortId: uuid()
      .notNull()
      .references(() => cohort.id, { onDelete: 'cascade' }),
    /** 1, 2, 3 … within its study. */
    number: integer().notNull(),
    /** What the change did, in a few words. */
    what: text().notNull(),
    /** The file that its cohort was read from, and what of it is a second file. */
    uploadId: uuid()
      .notNull()
      .references(() => upload.id),
    second: jsonb().$type<SecondFile>(),
    dictionary: jsonb().$type<Dictionary>().notNull(),
    choices: storedDesign().notNull(),
    selection: jsonb().$type<Selection>().notNull().default(everybody),
    leftBehind: boolean().notNull().default(false),
    at: now(),
  },
  (table) => [
    uniqueIndex('revision_number')
      .on(table.studyId, table.number)
      .where(sql`not left_behind`),
    index('revision_study').on(table.studyId),
    index('revision_cohort').on(table.cohortId),
    index('revision_upload').on(table.uploadId),
  ],
);

/** Every act that changed something of a study, who did it, and how it can be taken back. */
export const act = pgTable(
  'act',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    /** The browser that asked for it; absent where the product did it by itself. */
    person: uuid(),
    /** What it did, in a few words. */
    what: text().notNull(),
    /** How it is taken back; absent where it cannot be. */
    undo: jsonb().$type<Undo>(),
    at: now(),
    undoneAt: moment(),
  },
  (table) => [index('act_study').on(table.studyId, table.person, table.id)],
);

export const candidateStates = ['waiting', 'fitting', 'fitted', 'failed', 'cancelled'] as const;
export type CandidateState = (typeof candidateStates)[number];

/** One model family with its settings, fitted on a design. */
export const candidate = pgTable(
  'candidate',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    designId: uuid()
      .notNull()
      .references(() => design.id),
    /** 1, 2, 3 … within its study. */
    number: integer().notNull(),
    /** What the analyst calls it; absent where it has its family's name and its number. */
    title: text(),
    /** What the analyst wrote about it. */
    note: text().notNull().default(''),
    /** With which others the analyst has it stand together; empty where with none. */
    group: text().notNull().default(''),
    family: text().notNull(),
    settings: jsonb().$type<Settings>().notNull(),
    /** Kept predictors and preparation that it is fitted on; those in force where none is named. */
    basis: jsonb().$type<Basis>().notNull().default({}),
    /** Of a blend: what each part is; these are fitted anew with it, whatever becomes of the candidates they were. */
    parts: jsonb().$type<BlendPart[]>(),
    state: text().$type<CandidateState>().notNull().default('waiting'),
    partsDone: integer().notNull().default(0),
    partsTotal: integer().notNull().default(0),
    /** How much of those at work is done, in parts, where their family can tell. */
    partsBegun: doublePrecision().notNull().default(0),
    /** How the loss of the model has fallen until now, while it learns, where its family can tell. */
    learning: jsonb().$type<LossCurve>(),
    /** Sentence for the analyst when the fit failed. */
    problem: text(),
    startedAt: moment(),
    /** The worker's sign of life while fitting. */
    heartbeatAt: moment(),
    /** Goes up with every request to fit or cancel: a worker of an older run may not write. */
    fitRun: integer().notNull().default(0),
    cutoffRule: jsonb().$type<CutoffRule>().notNull(),
    createdAt: now(),
    fittedAt: moment(),
    /** Figures of its line in the table, for the fit, rule and costs that `key` names. */
    results: jsonb().$type<{ key: string; value: CrossValidated }>(),
    warnings: jsonb().$type<FitWarning[]>().notNull().default([]),
    /** What it predicts since it was fitted, and what a case was then. */
    outcome: jsonb().$type<Model['outcome']>(),
    /** The search that it was chosen from, as long as that is kept, and how. */
    searchId: uuid().references((): AnyPgColumn => search.id, { onDelete: 'set null' }),
    chosen: jsonb().$type<ChosenFrom>(),
    /** AUC of the model in the very patients it was fitted on: only to be set beside the out-of-fold one. */
    apparentArea: doublePrecision(),
    /** How large the model is; absent in fits from before it was told. */
    size: jsonb().$type<ModelSize>(),
    /** Milliseconds in which the worker scored a thousand patients. */
    scoreTime: doublePrecision(),
    deletedAt: deleted(),
  },
  (table) => [
    uniqueIndex('candidate_number').on(table.studyId, table.number),
    index('candidate_design').on(table.designId),
    index('candidate_search').on(table.searchId),
  ],
);

/**
 * The versions of a candidate: each distinct fit with its cutoff rule, the costs and what a case is.
 * A version that comes back (a cutoff that is undone) keeps its number.
 */
export const candidateVersion = pgTable(
  'candidate_version',
  {
    candidateId: uuid()
      .notNull()
      .references(() => candidate.id, { onDelete: 'cascade' }),
    /** 1, 2, 3 … within its candidate. */
    number: integer().notNull(),
    /** Fingerprint of all that makes it: two of the same are one. */
    key: text().notNull(),
    version: jsonb().$type<CandidateVersion>().notNull(),
    at: now(),
  },
  (table) => [
    primaryKey({ columns: [table.candidateId, table.number] }),
    uniqueIndex('candidate_version_key').on(table.candidateId, table.key),
  ],
);

/** What a fit gave: all that a later cohort needs. Apart from its candidate, which lists read. */
export const fit = pgTable('fit', {
  candidateId: uuid()
    .primaryKey()
    .references(() => candidate.id, { onDelete: 'cascade' }),
  /** As `packModel` gives it, read by `unpackModel`: models of every version are read as those of now. */
  model: jsonb().$type<PackedModel['json']>().notNull(),
  arrays: arrays(),
  /** Fold of each development patient, for each time that they were dealt. */
  folds: bytes().notNull(),
  /** How often they were dealt. */
  times: integer().notNull().default(1),
});

/** What a fitted model can show of itself. */
export const fitFacet = pgTable(
  'fit_facet',
  {
    candidateId: uuid()
      .notNull()
      .references(() => candidate.id, { onDelete: 'cascade' }),
    facet: jsonb().$type<Facet>().notNull(),
    position: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.candidateId, table.position] })],
);

/** What predictors are worth to a fit, as it was asked for and as far as it is worked out. */
export const worth = pgTable('worth', {
  candidateId: uuid()
    .primaryKey()
    .references(() => candidate.id, { onDelete: 'cascade' }),
  /** The fit that it is of. */
  fittedAt: moment().notNull(),
  /** Predictors that are moved together, besides each by itself. */
  together: jsonb().$type<string[][]>().notNull(),
  done: integer().notNull().default(0),
  total: integer().notNull().default(0),
  result: jsonb().$type<{ worths: Worths[]; patients: number; times: number }>(),
  /** Sentence for the analyst where it failed. */
  problem: text(),
  /** The worker's sign of life. */
  aliveAt: now(),
  /** Token of the worker that has it in hand; only who holds it writes. */
  heldBy: uuid(),
});

/** Predictions of a fit beside what happened, one entry a patient. */
export const prediction = pgTable(
  'prediction',
  {
    candidateId: uuid()
      .notNull()
      .references(() => candidate.id, { onDelete: 'cascade' }),
    /** Whose: each development patient's by the fold that left it out, for each time that they were dealt; the held-out or the sealed patients'. */
    whose: text().$type<'out of fold' | 'held out' | 'sealed'>().notNull(),
    header: jsonb().$type<OutcomeHeader>().notNull(),
    values: bytes().notNull(),
    outcome: bytes().notNull(),
  },
  (table) => [primaryKey({ columns: [table.candidateId, table.whose] })],
);

/** The result of a part without its predictions, and with the layout of its model's arrays alone. */
type KeptPart = Omit<FitPartResult, 'name' | 'predictions' | 'model'> & {
  model: Omit<Saved, 'arrays'> & { arrays: ArrayLayout };
};

/** A finished part of a fit, kept until the whole is done: a worker that is killed loses only the part it was at. */
export const fitPart = pgTable(
  'fit_part',
  {
    candidateId: uuid()
      .notNull()
      .references(() => candidate.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    result: jsonb().$type<KeptPart>().notNull(),
    arrays: arrays(),
    header: jsonb().$type<OutcomeHeader>().notNull(),
    values: bytes().notNull(),
  },
  (table) => [primaryKey({ columns: [table.candidateId, table.name] })],
);

/** Settings of one family, tried and compared. */
export const search = pgTable(
  'search',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    designId: uuid()
      .notNull()
      .references(() => design.id),
    /** 1, 2, 3 … within its study, in one row with the candidates. */
    number: integer().notNull(),
    family: text().notNull(),
    basis: jsonb().$type<Basis>().notNull().default({}),
    plan: jsonb().$type<SearchPlan>().notNull(),
    state: text().$type<SearchState>().notNull().default('waiting'),
    /** Shares of the patients of its rounds; absent until a worker has planned them. */
    shares: jsonb().$type<number[]>(),
    /** The round it is in, from 0. */
    round: integer().notNull().default(0),
    /** Work in fits on all patients: what there is in all, what is done, and what was when it last went on. */
    workTotal: doublePrecision().notNull().default(0),
    workDone: doublePrecision().notNull().default(0),
    workBefore: doublePrecision().notNull().default(0),
    /** Whether the choice is made anew inside every fold too. */
    nested: boolean().notNull().default(false),
    /** Which costs and cases its figures are of. */
    judgedBy: text(),
    /** The best by its own measure so far. */
    best: jsonb().$type<BestSoFar>(),
    /** Sentence for the analyst when it failed. */
    problem: text(),
    createdAt: now(),
    startedAt: moment(),
    endedAt: moment(),
    /** Sign of life of whichever worker is at it. */
    heartbeatAt: moment(),
    /** Goes up when it is stopped or begun anew: a worker of an older run may not write. */
    run: integer().notNull().default(0),
    deletedAt: deleted(),
  },
  (table) => [
    uniqueIndex('search_number').on(table.studyId, table.number),
    index('search_design').on(table.designId),
  ],
);

/** One of the settings that a search tries. */
export const trial = pgTable(
  'trial',
  {
    searchId: uuid()
      .notNull()
      .references(() => search.id, { onDelete: 'cascade' }),
    /** From 0. */
    number: integer().notNull(),
    settings: jsonb().$type<Settings>().notNull(),
    /** The last round in which it was judged; -1 before. */
    judgedRound: integer().notNull().default(-1),
    figures: jsonb().$type<TriedFigures>(),
    /** Measures in those it learned from, the mean of its parts. */
    development: jsonb().$type<Record<string, number>>(),
    /** Why it cannot be fitted. */
    problem: text(),
  },
  (table) => [primaryKey({ columns: [table.searchId, table.number] })],
);

/** One fit of a search: settings that come with it, on one part of one round. */
export const searchPiece = pgTable(
  'search_piece',
  {
    searchId: uuid()
      .notNull()
      .references(() => search.id, { onDelete: 'cascade' }),
    number: integer().notNull(),
    round: integer().notNull(),
    part: text().notNull(),
    /** Numbers of the settings. */
    trials: integer().array().notNull(),
    /** The worker that is at it, and its last sign of life. */
    claimedBy: uuid(),
    claimedAt: moment(),
    doneAt: moment(),
    /** Beside the predictions, of each of the settings. */
    development: jsonb().$type<(Record<string, number> | null)[]>(),
    problem: text(),
    /** Of each of the settings, where only some cannot be fitted. */
    problems: jsonb().$type<(string | null)[]>(),
    /** Where predictors are selected: those that are not pinned, the one that stays longest first. */
    ranked: jsonb().$type<string[]>(),
    header: jsonb().$type<OutcomeHeader>(),
    /** Out-of-fold predictions of each of the settings behind one another. */
    values: bytes(),
  },
  (table) => [
    primaryKey({ columns: [table.searchId, table.number] }),
    index('search_piece_round').on(table.searchId, table.round, table.doneAt),
  ],
);

/** One use of the held-out patients to judge a candidate. */
export const look = pgTable(
  'look',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    /** Absent once the candidate is gone: the look was taken all the same. */
    candidateId: uuid().references(() => candidate.id, { onDelete: 'set null' }),
    candidateName: text().notNull(),
    /** The fit that was looked at; absent in looks from before it was kept. */
    fittedAt: moment(),
    /** The patients who were shown: their cohort, and Int32 rows of its file; absent in looks from before it was kept. */
    cohortId: uuid().references(() => cohort.id, { onDelete: 'set null' }),
    rows: bytes(),
    /** The look that it belongs to, where several candidates were looked at beside one another: it counts once. */
    besides: bigint({ mode: 'number' }).references((): AnyPgColumn => look.id, {
      onDelete: 'cascade',
    }),
    at: now(),
  },
  (table) => [
    index('look_study').on(table.studyId),
    index('look_candidate').on(table.candidateId),
    index('look_besides').on(table.besides),
    index('look_cohort').on(table.cohortId),
  ],
);

/** One opening of held-out results, whether it counted as a look or showed what was known already. */
export const heldOutView = pgTable(
  'held_out_view',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    candidateId: uuid().references(() => candidate.id, { onDelete: 'set null' }),
    candidateName: text().notNull(),
    counted: boolean().notNull(),
    at: now(),
  },
  (table) => [
    index('held_out_view_study').on(table.studyId),
    index('held_out_view_candidate').on(table.candidateId),
  ],
);

/** A cohort scored with a candidate. */
export const screening = pgTable(
  'screening',
  {
    id: id(),
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    cohortId: uuid()
      .notNull()
      .references(() => cohort.id, { onDelete: 'cascade' }),
    candidateId: uuid()
      .notNull()
      .references(() => candidate.id, { onDelete: 'cascade' }),
    header: jsonb().$type<OutcomeHeader>().notNull().default({ kind: 'event' }),
    /** Predictions of every row of the cohort; NaN where one is not scored. */
    values: bytes().notNull(),
    /** What a case was when it was scored. */
    cases: jsonb().$type<CaseRule>().notNull().default({ kind: 'event' }),
    /** Int32 row numbers, whoever is most taken for a case first. */
    ranking: bytes().notNull(),
    /** Lower and upper end of each row's 95% prediction interval, in turn, where the family has one. */
    intervals: bytes(),
    /** What happened, as far as it is known; absent when the cohort has no outcome column. */
    outcome: bytes(),
    predictors: jsonb().$type<AlignedPredictor[]>().notNull(),
    extraColumns: jsonb().$type<string[]>().notNull(),
    /** How the list's columns stood for the predictors when it was scored. */
    matching: jsonb().$type<Match[]>().notNull().default([]),
    /** The version of the candidate that scored it, as it was then; absent in scores from before it was kept. */
    scoredWith: jsonb().$type<CandidateVersion>(),
    /** Who is called in: a choice of this list alone. */
    calls: jsonb().$type<CallRule>().notNull().default({ by: 'candidate' }),
    /** Fingerprint of the list as it was scored; absent in scores from before it was kept. */
    patients: text(),
    /** Predictors of which some rows have values that hardly any development patient had. */
    unfamiliar: jsonb().$type<string[]>().notNull().default([]),
    /** A bit a row and entry of `unfamiliar`, row after row in whole bytes; absent when there are none. */
    unfamiliarRows: bytes(),
    /** Float64 of every row: how unlike the development patients; absent where it cannot be told. */
    unusual: bytes(),
    /** The score that one development patient in a hundred exceeds. */
    unusualFrom: doublePrecision(),
    createdAt: now(),
  },
  (table) => [
    uniqueIndex('screening_pair').on(table.cohortId, table.candidateId),
    index('screening_study').on(table.studyId),
    index('screening_candidate').on(table.candidateId),
  ],
);

/** The file of a long list, which a worker writes in the background. */
export const listFile = pgTable(
  'list_file',
  {
    id: id(),
    screeningId: uuid()
      .notNull()
      .references(() => screening.id, { onDelete: 'cascade' }),
    /** `created_at` of the scores that it was written from. */
    scoredAt: moment().notNull(),
    cutoff: doublePrecision().notNull(),
    reasons: boolean().notNull(),
    state: text().$type<ListFileState>().notNull().default('waiting'),
    patients: integer().notNull(),
    patientsDone: integer().notNull().default(0),
    /** Sentence for the analyst when it failed. */
    problem: text(),
    createdAt: now(),
    startedAt: moment(),
    endedAt: moment(),
    /** Sign of life of the worker that writes it. */
    heartbeatAt: moment(),
    /** Goes up with every worker that takes it: an older one may not write. */
    run: integer().notNull().default(0),
  },
  (table) => [index('list_file_screening').on(table.screeningId)],
);

export const listFilePart = pgTable(
  'list_file_part',
  {
    fileId: uuid()
      .notNull()
      .references(() => listFile.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    content: bytes().notNull(),
  },
  (table) => [primaryKey({ columns: [table.fileId, table.position] })],
);

/** A part of the survey of the development cohort, under the key of what it was worked out for. */
export const surveyPart = pgTable(
  'survey_part',
  {
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    /** Which part, and how it was asked for. */
    part: text().notNull(),
    key: text().notNull(),
    result: jsonb().$type<SurveyResults[keyof SurveyResults]>(),
    /** How many patients it is drawn from while all are still being counted; null once they are. */
    sampled: integer(),
    /** Sentence for the analyst when it could not be worked out. */
    problem: text(),
    at: now(),
  },
  (table) => [primaryKey({ columns: [table.studyId, table.part] })],
);

/** A margin note that was dismissed, and why. */
export const dismissal = pgTable(
  'dismissal',
  {
    studyId: uuid()
      .notNull()
      .references(() => study.id, { onDelete: 'cascade' }),
    /** Which note: what it is about and where. */
    note: text().notNull(),
    title: text().notNull(),
    reason: text().notNull(),
    at: now(),
  },
  (table) => [primaryKey({ columns: [table.studyId, table.note] })],
);

/** A worker process that takes jobs; one that has not been seen for a while is gone. */
export const worker = pgTable('worker', {
  id: id(),
  host: text().notNull(),
  startedAt: now(),
  seenAt: now(),
});
