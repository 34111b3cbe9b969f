import { display } from '@rook-scale/core/table';
import type { Overview } from '../../contract/studies.ts';
import { ask } from '../../browser/api.ts';
import { candidateRoutes } from '../../contract/candidates.ts';
import { cohortRoutes } from '../../contract/cohorts.ts';
import { goTo } from '../../browser/leaving.ts';
import { stages } from './stages.ts';

/** One thing the search can lead to. */
export interface Command {
  kind: 'stage' | 'column' | 'candidate' | 'list' | 'study' | 'act';
  name: string;
  /** Shown at the right in place of the kind. */
  hint?: string;
  /** Further words it is found by. */
  words?: string;
  run: () => void;
}

const go = (address: string) => () => void goTo(address);

/** What can be found without asking the server. */
export function overviewCommands(overview: Overview, acts: Command[]): Command[] {
  const to = (path: string) => go(`/studies/${overview.study.id}/${path}`);
  return [
    ...stages.map(({ id, name, fact }, i): Command => ({
      kind: 'stage',
      name,
      hint: fact(overview),
      words: `stage ${i + 1}`,
      run: to(id),
    })),
    ...acts,
    ...overview.studies
      .filter(({ id }) => id !== overview.study.id)
      .map(({ id, name }): Command => ({
        kind: 'study',
        name,
        run: go(`/studies/${id}/records`),
      })),
  ];
}

/** Columns, candidates and lists of the study. */
export async function fetchCommands(studyId: string): Promise<Command[]> {
  const to = (path: string) => go(`/studies/${studyId}/${path}`);
  const [development, candidates, lists] = await Promise.all([
    ask(cohortRoutes.development, { study: studyId }),
    ask(candidateRoutes.list, { study: studyId }),
    ask(cohortRoutes.lists, { study: studyId }),
  ]);
  return [
    ...candidates.flatMap(({ id, name }): Command[] => [
      { kind: 'candidate', name, run: to(`candidates?candidate=${id}`) },
      {
        kind: 'candidate',
        name: `${name}: held-out check`,
        hint: 'counts as a look',
        run: to(`held-out-check?candidate=${id}`),
      },
    ]),
    ...lists.map(({ id, name }): Command => ({
      kind: 'list',
      name,
      run: to(`screening?list=${id}`),
    })),
    ...(development?.dictionary ?? []).map((entry): Command => ({
      kind: 'column',
      name: display(entry),
      hint: `column, ${entry.role}`,
      words: entry.name,
      run: to(`records?view=dictionary&column=${encodeURIComponent(entry.name)}`),
    })),
  ];
}

/** Commands with every word of the text in theirs; those that begin with it come first. */
export function matching(commands: Command[], text: string): Command[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const scored = commands.flatMap((command, order) => {
    const name = command.name.toLowerCase();
    const all = `${name} ${command.words?.toLowerCase() ?? ''} ${command.kind}`;
    if (!words.every((word) => all.includes(word))) return [];
    const starts = words.length > 0 && name.startsWith(words[0]) ? 0 : 1;
    return [{ command, starts, order }];
  });
  return scored
    .sort((a, b) => a.starts - b.starts || a.order - b.order)
    .slice(0, 60)
    .map(({ command }) => command);
}
