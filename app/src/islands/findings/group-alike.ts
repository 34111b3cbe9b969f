import type { Finding, FindingCode } from '@rook-scale/core/survey';
import { display } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { mendDictionary } from '../../browser/edits.ts';
import { plural } from '../../browser/format.ts';
import type { MarginNote } from '../margin/index.ts';

interface Noted {
  finding: Finding;
  note: MarginNote;
}

/** From so many of one sort on, they become one note with a list. */
const many = 4;

/** Notes in their order, those of a sort that came often as one where its first stood. */
export function groupAlike(noted: Noted[], cohort: CohortInfo): MarginNote[] {
  const bySort = new Map<FindingCode, Noted[]>();
  for (const one of noted) {
    const others = bySort.get(one.finding.code);
    if (others) others.push(one);
    else bySort.set(one.finding.code, [one]);
  }
  return [...bySort.values()].flatMap((alike) =>
    alike.length < many ? alike.map(({ note }) => note) : [groupNote(alike, cohort)],
  );
}

const titles: Record<FindingCode, (count: number) => string> = {
  'identifier-like': (count) => `${plural(count, 'column')} seem to number patients`,
  constant: (count) => `${plural(count, 'column')} never vary`,
  'near-duplicates': (count) => `${plural(count, 'pair')} of columns say nearly the same`,
  'implausible zeros': (count) => `${plural(count, 'column')} with zeros that are not plausible`,
  'gives the answer away': (count) => `${plural(count, 'column')} may give the answer away`,
  'code for missing': (count) => `${plural(count, 'code')} that may mean not known`,
  'spelled twice': (count) => `${plural(count, 'level')} spelled in two ways`,
  'duplicated patients': (count) => `${plural(count, 'set')} of duplicated patients`,
  'counted rows': () => 'Rows may stand for several patients',
  'sorted by outcome': () => 'The file seems sorted by outcome',
};

/** Sorts that are mended by setting the column aside; of a pair, the second. */
const setAside = new Set<FindingCode>([
  'identifier-like',
  'constant',
  'near-duplicates',
  'gives the answer away',
]);

function groupNote(alike: Noted[], cohort: CohortInfo): MarginNote {
  const { code } = alike[0].finding;
  const title = titles[code](alike.length);
  const label = (name: string) => {
    const entry = cohort.dictionary.find((one) => one.name === name);
    return entry ? display(entry) : name;
  };
  const items = alike.map(({ finding: { columns, values } }) => {
    const what = columns.map(label).join(' and ');
    return code === 'code for missing' || code === 'spelled twice'
      ? `${what} (${values.join(', ')})`
      : what;
  });
  const last = new Set(alike.map(({ finding }) => finding.columns.at(-1)!));
  return {
    id: `${code} · ${[...last].sort().join(' · ')}`.slice(0, 300),
    title,
    list: items,
    text: 'Each can be judged in Survey.',
    acts: setAside.has(code)
      ? [
          {
            label:
              code === 'near-duplicates' ? 'Set the second of each aside' : 'Set them all aside',
            onClick: () =>
              void mendDictionary(
                cohort,
                (dictionary) =>
                  dictionary.map((entry) =>
                    last.has(entry.name) && entry.role === 'predictor'
                      ? { ...entry, role: 'set aside' }
                      : entry,
                  ),
                `${plural(last.size, 'column is', 'columns are')} set aside.`,
              ),
          },
        ]
      : undefined,
  };
}
