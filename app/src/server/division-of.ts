import { eq } from 'drizzle-orm';
import { db, tables } from './ground/database/index.ts';

/** Side of every patient and fold of every development patient, as a division was stored. */
export async function divisionOf(id: string): Promise<{ sides: Buffer; folds: Buffer }> {
  const [division] = await db()
    .select({ sides: tables.division.sides, folds: tables.division.folds })
    .from(tables.division)
    .where(eq(tables.division.id, id));
  return division;
}
