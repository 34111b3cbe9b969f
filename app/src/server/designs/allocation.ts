import { eq } from 'drizzle-orm';
import type { Allocation } from '@rook-scale/core/design';
import type { DictionaryEntry } from '@rook-scale/core/table';
import type { AllocationBroughtIn } from '../../contract/designs.ts';
import { developmentCohort } from '../cohorts/index.ts';
import { db, tables } from '../ground/database/index.ts';
import { Problem } from '../ground/problem.ts';
import { keptUpload, readColumns } from '../intake/index.ts';

/** The words for each side in a file, as it is written here and as people write it. */
const sideOf: Record<string, Allocation['patients'][number]['side']> = {
  development: 'development',
  'held out': 'heldOut',
  'held-out': 'heldOut',
  heldout: 'heldOut',
  sealed: 'sealed',
};

/**
 * Keeps an allocation out of a file with an identifier, a side and perhaps a fold for each patient.
 * Throws a Problem where the file is another.
 */
export async function bringInAllocation(
  studyId: string,
  uploadId: string,
): Promise<AllocationBroughtIn> {
  const { tallies, fileName } = await keptUpload(uploadId);
  const names = tallies.map(({ name }) => name);
  const cohort = await developmentCohort(studyId);
  const identifier = cohort?.dictionary.find((entry) => entry.role === 'identifier')?.name;
  const own = names.find((name) => name === identifier) ?? find(names, 'identifier');
  const [side, fold] = [find(names, 'side'), find(names, 'fold')];
  if (!own || !side)
    throw refused(
      `${fileName} is no allocation: it needs a column “${identifier ?? 'identifier'}” and a column “side” that says development, held out or sealed. It has ${names.slice(0, 6).join(', ')}.`,
    );
  const read = await readColumns(uploadId, names.map(asText), {});
  const texts = (name: string | undefined) => {
    const column = name === undefined ? undefined : read.columns[names.indexOf(name)];
    return column?.type === 'text' ? column.values : undefined;
  };
  const patients = allocationOf(fileName, texts(own)!, texts(side)!, texts(fold));
  const [{ id }] = await db()
    .insert(tables.allocation)
    .values({ studyId, name: fileName, patients })
    .returning({ id: tables.allocation.id });
  return {
    id,
    name: fileName,
    patients: patients.length,
    folds: patients.every((one) => one.side !== 'development' || one.fold !== undefined),
  };
}

/** An allocation that was brought in, while its study is there. */
export async function keptAllocation(id: string): Promise<Allocation | undefined> {
  const [found] = await db()
    .select({ patients: tables.allocation.patients })
    .from(tables.allocation)
    .where(eq(tables.allocation.id, id));
  return found;
}

function allocationOf(
  fileName: string,
  identifiers: (string | null)[],
  sides: (string | null)[],
  folds: (string | null)[] | undefined,
): Allocation['patients'] {
  const known = new Map<string, Allocation['patients'][number]>();
  identifiers.forEach((identifier, row) => {
    const word = sides[row]?.trim().toLowerCase();
    // Whoever has no side is on none.
    if (identifier === null || !word) return;
    const side = sideOf[word] as (typeof sideOf)[string] | undefined;
    if (!side)
      throw refused(
        `${fileName}, row ${row + 1}: “${sides[row]}” is no side. A side is development, held out or sealed.`,
      );
    const fold = Number(folds?.[row] ?? NaN);
    const one = { identifier, side, ...(Number.isInteger(fold) && fold > 0 && { fold }) };
    const before = known.get(identifier);
    if (before && (before.side !== one.side || before.fold !== one.fold))
      throw refused(
        `${fileName} says two things of ${identifier}: one patient is on one side and in one fold.`,
      );
    known.set(identifier, one);
  });
  if (known.size === 0) throw refused(`${fileName} names no patient with a side.`);
  return [...known.values()];
}

const find = (names: string[], wanted: string) =>
  names.find((name) => name.trim().toLowerCase() === wanted);

const asText = (name: string): DictionaryEntry => ({
  name,
  label: '',
  unit: '',
  kind: 'text',
  role: 'set aside',
  missingCodes: [],
});

const refused = (sentence: string) =>
  new Problem(422, 'no-allocation', `${sentence} Nothing was changed.`);
