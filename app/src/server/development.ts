import { eq } from 'drizzle-orm';
import {
  balancingOf,
  columnsOfCosts,
  costTable,
  designFor,
  findOutcome,
  rowsOn,
  side,
  type Basis,
  type Design,
} from '@rook-scale/core/design';
import { dependsOnCosts, familyOf, type Settings } from '@rook-scale/core/families';
import type { Outcome } from '@rook-scale/core/outcome';
import { sourcesOf } from '@rook-scale/core/screening';
import type { Table } from '@rook-scale/core/table';
import type { FitRecipe } from '@rook-scale/core/tuning';
import type { BlendPart } from '../contract/candidates.ts';
import type { CohortInfo } from '../contract/cohorts.ts';
import { tableWithRule } from './candidates/index.ts';
import { cohortFingerprint, cohortInfo, loadTable } from './cohorts/index.ts';
import { db, tables } from './ground/database/index.ts';
import { Problem } from './ground/problem.ts';

/** What a fit stands on: the design that it is made on, and its patients; typed arrays in shared memory. */
export interface Development {
  design: Design;
  divisionId: string;
  cohort: CohortInfo;
  table: Table;
  /** Columns that the family looks at. */
  names: string[];
  outcome: Outcome;
  /** Of each development patient, for each of the times that folds were dealt in turn. */
  folds: Uint8Array;
  developmentRows: Int32Array;
  heldOutRows: Int32Array;
  sealedRows: Int32Array;
}

interface Fitted {
  designId: string;
  family: string;
  settings: Settings;
  basis: Basis;
  /** Of a blend. */
  parts?: BlendPart[] | null;
}

/** Reads what a fit stands on. An error says so when the patients are others than were divided. */
export async function loadDevelopment(fitted: Fitted): Promise<Development> {
  const [found] = await db()
    .select({
      choices: tables.design.choices,
      cohortId: tables.design.cohortId,
      division: tables.division,
    })
    .from(tables.design)
    .innerJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(eq(tables.design.id, fitted.designId));
  if (!found) throw new Error('The design of a fit is gone.');
  const { division } = found;
  const design = designFor(found.choices, fitted.basis);
  const cohort = await cohortInfo(found.cohortId);
  refuseOthers(division, cohort);
  const { table, names } = await columnsFor(fitted, design, cohort);
  return {
    design,
    divisionId: division.id,
    cohort,
    table,
    names,
    outcome: shareOutcome(findOutcome(table, design)),
    folds: Uint8Array.from(division.folds),
    developmentRows: rowsOn(division.sides, side.development),
    heldOutRows: rowsOn(division.sides, side.heldOut),
    sealedRows: rowsOn(division.sides, side.sealed),
  };
}

/** How a family is fitted on a design. */
export function recipeOn(
  { design, outcome }: Pick<Development, 'design' | 'outcome'>,
  family: string,
  settings: Settings,
  parts?: BlendPart[] | null,
): FitRecipe {
  if (parts) {
    return {
      ...{ family, settings, seed: design.seed },
      parts: parts.map((part) => {
        const own = designFor(design, part.basis);
        const recipe = recipeOn({ design: own, outcome }, part.family, part.settings);
        return { name: part.name, predictors: own.predictors, recipe };
      }),
    };
  }
  return {
    family,
    settings,
    seed: design.seed,
    ...(design.kind === 'levels' && { reference: design.reference }),
    ...(design.preparation.length > 0 && { steps: design.preparation }),
    balancing: balancingOf(design),
    ...(dependsOnCosts(familyOf(family).description, settings) && {
      costs: costTable(design, outcome.kind === 'levels' ? outcome.levels : []),
    }),
  };
}

/** What a family looks at: the design's predictors, or what its rule gives. */
async function columnsFor(
  { family, settings, parts }: Fitted,
  design: Design,
  cohort: CohortInfo,
): Promise<{ table: Table; names: string[] }> {
  if (familyOf(family).description.fixed)
    return tableWithRule(cohort, String(settings.formula), [
      design.outcome,
      ...columnsOfCosts(design),
    ]);
  const names = parts
    ? [...new Set(parts.flatMap(({ basis }) => designFor(design, basis).predictors))]
    : design.predictors;
  const sources = sourcesOf(names, cohort.dictionary);
  const read = [design.outcome, ...names, ...sources, ...columnsOfCosts(design)];
  return { table: await loadTable(cohort, read), names };
}

/** A division is of certain patients: of others its sides and folds would be anybody's. */
function refuseOthers(
  { sides, patients }: typeof tables.division.$inferSelect,
  cohort: CohortInfo,
) {
  const same = sides.length === cohort.rowCount;
  if (same && (patients === null || patients === cohortFingerprint(cohort))) return;
  throw new Problem(
    409,
    'other-patients',
    'The patients have changed since this fit was asked for. Fit it again.',
  );
}

/** Typed arrays in shared memory, which threads read without a copy. */
function shareOutcome(outcome: Outcome): Outcome {
  const { values } = outcome;
  const Kind = values.constructor as new (buffer: SharedArrayBuffer) => typeof values;
  const shared = new Kind(new SharedArrayBuffer(values.byteLength));
  shared.set(values);
  return { ...outcome, values: shared } as Outcome;
}
