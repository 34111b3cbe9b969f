import type { Finding, FindingCode } from '@rook-scale/core/survey';
import { display } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { plural } from '../../browser/format.ts';
import type { MarginNote } from '../margin/index.ts';
import { evidenceOf, isClear } from './evidence.ts';
import { SetAsideDialog } from './SetAsideDialog.tsx';

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
  'missing by outcome': (count) => `${plural(count, 'column')} missing depending on the outcome`,
  'later by name': (count) => `${plural(count, 'column')} may be recorded after the outcome`,
  'units differ by group': (count) => `${plural(count, 'column')} with different units by group`,
  'code for missing': (count) => `${plural(count, 'code')} that may mean not known`,
  'spelled twice': (count) => `${plural(count, 'level')} spelled in two ways`,
  'duplicated patients': (count) => `${plural(count, 'set')} of duplicated patients`,
  'counted rows': () => 'Rows may stand for several patients',
  'sorted by outcome': () => 'The file seems sorted by outcome',
};

/** Sorts that are mended by setting columns aside, with what the choice is about; of a pair, the second. */
const asideTexts: Partial<Record<FindingCode, string>> = {
  'identifier-like': 'A model would learn these numbers by heart.',
  constant: 'A column that never varies tells nobody apart.',
  'near-duplicates': 'One column of each pair is enough for a model.',
  'gives the answer away':
    'A column recorded after the outcome must go. A strong marker that is known in time may stay.',
  'missing by outcome': 'A column filled in after the outcome must go.',
  'later by name': 'A predictor must be known when the risk is predicted.',
};

function groupNote(alike: Noted[], cohort: CohortInfo): MarginNote {
  const { code } = alike[0].finding;
  const title = titles[code](alike.length);
  const label = (name: string) => {
    const entry = cohort.dictionary.find((one) => one.name === name);
    return entry ? display(entry) : name;
  };
  const choices = alike.map(({ finding }) => ({
    name: finding.columns.at(-1)!,
    label: finding.columns.map(label).join(' and '),
    evidence: evidenceOf(finding),
    isClear: isClear(finding),
  }));
  const last = [...new Set(choices.map(({ name }) => name))].sort();
  const about = asideTexts[code];
  return {
    id: `${code} · ${last.join(' · ')}`.slice(0, 300),
    title,
    list: choices.map((one) => `${one.label}: ${one.evidence}`),
    text: 'Each can be judged in Survey.',
    acts: about
      ? [
          {
            label: 'Choose which to set aside',
            dialog: (onClose) => <SetAsideDialog {...{ title, about, cohort, choices, onClose }} />,
          },
        ]
      : undefined,
  };
}
