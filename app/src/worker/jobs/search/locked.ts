import { and, eq } from 'drizzle-orm';
import { atOnce, db, tables } from '../../../server/ground/database/index.ts';
import type { SearchRow } from '../../../server/searches/index.ts';

const { search } = tables;

/** Work on a search's own row, which no other process does at the same time. */
export async function locked(
  id: string,
  run: number,
  work: (row: SearchRow) => Promise<void>,
): Promise<void> {
  await atOnce(async () => {
    const [row] = await db()
      .select()
      .from(search)
      .where(and(eq(search.id, id), eq(search.run, run), eq(search.state, 'running')))
      .for('update');
    if (row) await work(row);
  });
}
