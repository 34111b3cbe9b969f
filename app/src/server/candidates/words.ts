import { and, eq, isNull, ne } from 'drizzle-orm';
import { familyDescriptions } from '@rook-scale/core/families';
import { recordAct, type Changed } from '../acts/index.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { Problem } from '../ground/problem.ts';
import { same } from '../ground/same.ts';
import { announce } from '../jobs/index.ts';
import { candidateName, candidateRow } from './store.ts';

/**
 * Gives a candidate a name of its own, a note and a group to stand in.
 *
 * @param words an empty name gives back the one it had at first; what is absent stays
 */
export async function nameCandidate(
  id: string,
  words: { name?: string; note?: string; group?: string },
): Promise<void> {
  const { studyId, family, number } = await candidateRow(id);
  await inTurn(studyId, async () => {
    const first = candidateName({ title: null, family, number });
    const title = words.name === undefined || words.name === first ? undefined : words.name || null;
    if (family === 'reference' && title)
      throw new Problem(409, 'reference-name', 'The reference candidate keeps its name.');
    if (title && (await othersNames(studyId, id)).includes(title))
      throw new Problem(
        409,
        'name-taken',
        `Another candidate of this study is called ${title}. Give this one another name.`,
      );
    if (title && isKeptForOthers(title))
      throw new Problem(
        409,
        'name-kept',
        `${title} is what another candidate may be called by itself. Give this one another name.`,
      );
    const before = await wordsOf(id);
    await giveWords(id, {
      title: words.name === undefined ? before.title : (title ?? null),
      note: words.note ?? before.note,
      group: words.group ?? before.group,
    });
  });
}

/** What the analyst calls a candidate, wrote about it, and with which others it stands. */
export async function wordsOf(id: string): Promise<Changed['words']> {
  const { title, note, group } = await candidateRow(id);
  return { title, note, group };
}

/** Gives a candidate these words, whatever they are. */
export async function giveWords(id: string, words: Changed['words']): Promise<void> {
  const { studyId } = await candidateRow(id);
  await inTurn(studyId, () =>
    atOnce(async () => {
      const before = await candidateRow(id);
      const { title, note, group } = before;
      if (same({ title, note, group }, words)) return;
      await db().update(tables.candidate).set(words).where(eq(tables.candidate.id, id));
      await recordAct(
        studyId,
        `name, group or note of ${candidateName({ ...before, title: words.title })}`,
        {
          ...{ kind: 'value', of: 'words', id, before: { title, note, group }, after: words },
        },
      );
      await announce(studyId);
    }),
  );
}

/** A family and a number: candidates that are still to come have such names. */
const isKeptForOthers = (name: string): boolean =>
  familyDescriptions.some(
    (family) =>
      name.startsWith(`${family.name} `) && /^\d+$/.test(name.slice(family.name.length + 1)),
  );

/** Names by which other candidates of the study are known. */
async function othersNames(studyId: string, id: string): Promise<string[]> {
  const { candidate } = tables;
  const others = await db()
    .select({ title: candidate.title, family: candidate.family, number: candidate.number })
    .from(candidate)
    .where(and(eq(candidate.studyId, studyId), ne(candidate.id, id), isNull(candidate.deletedAt)));
  return others.map(candidateName);
}
