import type { Finding, FindingCode } from '@rook-scale/core/survey';
import { columnReference } from '@rook-scale/core/formula';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { mendDictionary, mendEntry } from '../../browser/edits.ts';
import {
  listWords,
  lowerFirst,
  plural,
  showArea,
  showCount,
  showValue,
} from '../../browser/format.ts';
import { roundDigits, showFixed } from '../../browser/numbers.ts';
import type { MarginNote, NoteAct } from '../margin/index.ts';

type Worded = Omit<MarginNote, 'id'>;
type Wording = (finding: Finding, cohort: CohortInfo, entries: DictionaryEntry[]) => Worded;

/** A finding as a note with its evidence and its mends; undefined where nothing is left to mend. */
export function findingNote(finding: Finding, cohort: CohortInfo): MarginNote | undefined {
  const { code, columns, values } = finding;
  const entries = columns.flatMap(
    (name) => cohort.dictionary.find((entry) => entry.name === name) ?? [],
  );
  if (entries.length < columns.length) return undefined;
  if (aboutPredictors.has(code) && !entries.every((entry) => entry.role === 'predictor'))
    return undefined;
  const id = [code, ...columns, ...values.slice(0, 2)].join(' · ').slice(0, 480);
  return { id, ...wordings[code](finding, cohort, entries) };
}

/** Of no consequence once the column is set aside. */
const aboutPredictors = new Set<FindingCode>([
  'identifier-like',
  'constant',
  'near-duplicates',
  'gives the answer away',
  'missing by outcome',
  'later by name',
]);

const wordings: Record<FindingCode, Wording> = {
  'identifier-like': ({ figures }, cohort, [entry]) => ({
    title: `${display(entry)} seems to number patients`,
    text: `${showCount(figures.different)} different whole numbers in ${plural(figures.patients, 'patient')}. A model would learn it by heart.`,
    acts: [
      ...(cohort.dictionary.some((one) => one.role === 'identifier')
        ? []
        : [
            mend(cohort, entry, 'Make it the identifier', 'is the identifier now', (one) => ({
              ...one,
              role: 'identifier',
              kind: 'text',
              levels: undefined,
            })),
          ]),
      setAside(cohort, entry, 'Set it aside'),
    ],
  }),

  constant: ({ figures }, cohort, [entry]) => ({
    title: `${display(entry)} never varies`,
    text: `All ${plural(figures.patients, 'patient')} in whom it is known have the same value: it tells nobody apart.`,
    acts: [setAside(cohort, entry, 'Set it aside')],
  }),

  'near-duplicates': ({ figures }, cohort, [first, second]) => ({
    title: `${display(first)} and ${display(second)} say nearly the same`,
    text:
      figures.correlation === undefined
        ? `One follows from the other in ${Math.round(100 * figures.agreement)}% of patients. With both, coefficients become unsteady.`
        : `Their ranks correlate by ${showFixed(figures.correlation, 2)}. With both, coefficients become unsteady and say little.`,
    acts: [
      setAside(cohort, second, `Set ${display(second)} aside`),
      setAside(cohort, first, `Set ${display(first)} aside`),
    ],
  }),

  'implausible zeros': ({ figures }, cohort, [entry]) => ({
    title: `${display(entry)} of zero`,
    text: `${plural(figures.patients, 'patient')} ${figures.patients === 1 ? 'has' : 'have'} ${lowerFirst(display(entry))} 0${unit(entry)}; the least otherwise is ${showValue(figures.least)}. Zero is not a plausible value: treat as not known?`,
    acts: [notKnown(cohort, entry, '0')],
  }),

  'gives the answer away': ({ figures, values }, cohort, [entry]) => ({
    title: `${display(entry)} gives the answer away`,
    text:
      values.length > 0
        ? `${showCount(figures.events)} of ${plural(figures.patients, 'development patient')} with “${values[0]}” have the event. It may have been recorded after it.`
        : `Alone it predicts the outcome with an AUC of ${showArea(figures.area)}. It may have been recorded after the event.`,
    acts: [setAside(cohort, entry, 'Leave it out')],
  }),

  'missing by outcome': ({ figures }, cohort, [entry]) => ({
    title: `${display(entry)}: missing values depend on the outcome`,
    text: `Missing in ${showCount(figures.missingCases)} of ${plural(figures.cases, 'development case')} and in ${showCount(figures.missingOthers)} of ${plural(figures.others, 'non-case')}. The column may be filled in after the outcome; a model would learn from the gaps.`,
    acts: [setAside(cohort, entry, 'Leave it out')],
  }),

  'later by name': ({ values }, cohort, [entry]) => ({
    title: `Is ${lowerFirst(display(entry))} known in time?`,
    text: `The name says “${values[0]}”. A predictor must be known when the risk is predicted, not recorded after the outcome.`,
    acts: [setAside(cohort, entry, 'Leave it out')],
  }),

  'units differ by group': ({ figures, values }, cohort, [entry, group]) => ({
    title: `${display(entry)}: another unit in ${listWords(values, 'and')}?`,
    text: `Median ${showValue(figures.median)} in ${listWords(values, 'and')} (${display(group)}), ${showValue(figures.otherMedian)}${unit(entry)} elsewhere. ${figures.factor === undefined ? `A ratio of ${showValue(roundDigits(figures.ratio, 2))} fits no known conversion: ask where the values come from.` : `${showConversion(figures)} would bring them together; check the unit first.`}`,
    acts:
      figures.factor === undefined
        ? [setAside(cohort, entry, `Set ${display(entry)} aside`)]
        : [convertIn(cohort, entry, group, values, figures)],
  }),

  'code for missing': ({ figures, values: [value] }, cohort, [entry]) => ({
    title: `${display(entry)}: does ${value} mean not known?`,
    text: `${plural(figures.patients, 'patient')} ${figures.patients === 1 ? 'has' : 'have'} ${value}${figures.nearest === undefined ? '' : `; the nearest other value is ${showValue(figures.nearest)}`}. It looks like a code, not a ${entry.kind === 'number' ? 'measurement' : 'level'}.`,
    acts: [notKnown(cohort, entry, value)],
  }),

  'spelled twice': ({ figures, values: [most, ...others] }, cohort, [entry]) => ({
    title: `${display(entry)}: spelled in two ways`,
    text: `${others.map((level) => `“${level}”`).join(', ')} (${plural(figures.patients, 'patient')}) looks like “${most}”.`,
    acts: [
      mend(cohort, entry, `Make it “${most}”`, `is read as one level, ${most}`, (one) => ({
        ...one,
        spellings: { ...one.spellings, ...Object.fromEntries(others.map((cell) => [cell, most])) },
        levels: one.levels?.filter((level) => !others.includes(level)),
      })),
    ],
  }),

  'duplicated patients': ({ figures, values }, cohort) => ({
    title: `${plural(figures.patients, 'patient')} ${figures.patients === 1 ? 'has' : 'have'} several rows`,
    text:
      values.length > 0
        ? `${plural(figures.extraRows, 'repeated row')}, for example of ${values.join(', ')}. Rows of a patient stay on one side of the split. Models, checks and Relations give intervals and tests by patient; other views of Survey treat rows as independent.`
        : `${plural(figures.extraRows, 'row')} ${figures.extraRows === 1 ? 'repeats' : 'repeat'} another in every column. Without an identifier, they cannot be told from different patients.`,
    acts: [
      {
        label: 'Show the first',
        href: `/studies/${cohort.studyId}/records?view=rows&row=${figures.firstRow}`,
      },
      { label: 'Keep one of each', href: `/studies/${cohort.studyId}/records?view=patients` },
    ],
  }),

  'counted rows': ({ figures }, cohort, entries) => ({
    title: 'Rows may stand for several patients',
    text: `${entries.map(display).join(' and ')} ${entries.length === 1 ? 'looks like a count' : 'look like counts'}, and every combination of the other columns stands in one row. Here each of the ${showCount(figures.rows)} rows counts as one patient, not as its share of ${showCount(figures.patients)}. ${entries.length === 1 ? 'Give the column the role of the number of patients.' : 'Bring in a table with one row a patient, or with one column for the number of patients.'}`,
    acts: [
      ...(entries.length === 1
        ? [
            mend(cohort, entries[0], 'Count the patients', 'counts the patients', (one) => ({
              ...one,
              role: 'number of patients',
            })),
          ]
        : []),
      { label: 'Show the rows', href: `/studies/${cohort.studyId}/records?view=rows` },
    ],
  }),

  'sorted by outcome': ({ figures }, cohort) => ({
    title: 'The file seems sorted by outcome',
    text: `Events come in ${showCount(figures.runs)} runs where chance would give about ${showCount(Math.round(figures.expected))}. The split does not follow the order of rows, so it is safe; but the order may hide how the file was put together.`,
    acts: [{ label: 'Show the rows', href: `/studies/${cohort.studyId}/records?view=rows` }],
  }),
};

/** "× 88.4", "× 1.8 + 32". */
const showConversion = ({ factor, offset }: Record<string, number>): string =>
  `× ${showValue(factor)}${offset === 0 ? '' : ` ${offset > 0 ? '+' : '−'} ${showValue(Math.abs(offset))}`}`;

/** A derived column in one unit; the column as it was recorded is set aside. */
function convertIn(
  cohort: CohortInfo,
  entry: DictionaryEntry,
  group: DictionaryEntry,
  levels: string[],
  { factor, offset }: Record<string, number>,
): NoteAct {
  const value = columnReference(entry.name);
  const quoted = levels.map((level) => (level.includes("'") ? `"${level}"` : `'${level}'`));
  const converted = `${factor} * ${value}${offset === 0 ? '' : ` ${offset > 0 ? '+' : '-'} ${Math.abs(offset)}`}`;
  const taken = new Set(cohort.dictionary.flatMap((one) => [one.name, display(one)]));
  let name = `${entry.name}_converted`;
  for (let i = 2; taken.has(name); i++) name = `${entry.name}_converted_${i}`;
  const derived: DictionaryEntry = {
    name,
    label: `${display(entry)}, converted`,
    unit: entry.unit,
    kind: 'number',
    role: entry.role,
    missingCodes: [],
    formula: `if(${columnReference(group.name)} in (${quoted.join(', ')}), ${converted}, ${value})`,
  };
  return {
    label: 'Convert these values',
    onClick: () =>
      void mendDictionary(
        cohort,
        (dictionary) => [
          ...dictionary.map((one) =>
            one.name === entry.name && one.role === 'predictor'
              ? { ...one, role: 'set aside' as const }
              : one,
          ),
          derived,
        ],
        `${derived.label} is derived; ${display(entry)} is set aside.`,
      ),
  };
}

const unit = (entry: DictionaryEntry) => (entry.unit ? ` ${entry.unit}` : '');

function mend(
  cohort: CohortInfo,
  entry: DictionaryEntry,
  label: string,
  done: string,
  change: (entry: DictionaryEntry) => DictionaryEntry,
): NoteAct {
  return {
    label,
    onClick: () => void mendEntry(cohort, entry.name, change, `${display(entry)} ${done}.`),
  };
}

function setAside(cohort: CohortInfo, entry: DictionaryEntry, label: string): NoteAct {
  return mend(cohort, entry, label, 'is set aside', (one) => ({ ...one, role: 'set aside' }));
}

function notKnown(cohort: CohortInfo, entry: DictionaryEntry, code: string): NoteAct {
  return mend(
    cohort,
    entry,
    `Treat ${code} as not known`,
    `${code} is read as not known`,
    (one) => ({
      ...one,
      missingCodes: [...new Set([...one.missingCodes, code])],
      levels: one.levels?.filter((level) => level !== code),
    }),
  );
}
