import { balancingWays } from '@rook-scale/core/balancing';
import { foldsWords, splitsByShare, splitWords, type Design } from '@rook-scale/core/design';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { stepOf } from '@rook-scale/core/preparation';
import { showPercent } from '../../../browser/format.ts';
import { showExact } from '../../../browser/numbers.ts';
import { stepText } from '../preparation/step-text.ts';

type LabelOf = (column: string) => string;

/** What is kept under names beside a design stays with the study, whichever design is in force. */
export type Decided = Omit<Design, 'predictorSets' | 'preparations'>;

/** Every choice of a design in words, in the order of its page; null where it plays no part. */
const fields: {
  [F in keyof Decided]: { label: string; say: (design: Design, labelOf: LabelOf) => Said };
} = {
  outcome: {
    label: 'Outcome',
    say: ({ outcome }, labelOf) => (outcome ? labelOf(outcome) : 'not chosen'),
  },
  kind: { label: 'Predicted as', say: ({ kind }) => kindWords[kind] },
  event: {
    label: 'Event',
    say: ({ kind, event }) => (kind === 'event' ? event || 'not chosen' : null),
  },
  reference: {
    label: 'Level compared with',
    say: ({ kind, reference }) => (kind === 'levels' ? reference || 'not chosen' : null),
  },
  cases: {
    label: 'Levels that are cases',
    say: ({ kind, cases }) => (kind === 'levels' ? cases : null),
  },
  caseFrom: {
    label: 'A case is',
    say: ({ kind, caseFrom, caseSide }) =>
      kind === 'number' ? (caseFrom === null ? 'not chosen' : `${caseSide} ${caseFrom}`) : null,
  },
  // Said with the number.
  caseSide: { label: '', say: () => null },
  predictors: {
    label: 'Predictors',
    say: ({ predictors }, labelOf) => predictors.map(labelOf),
  },
  needed: { label: 'Must be known', say: ({ needed }, labelOf) => needed.map(labelOf) },
  fixed: { label: 'Cannot be changed', say: ({ fixed }, labelOf) => fixed.map(labelOf) },
  split: { label: 'Held out', say: ({ split }, labelOf) => splitWords(split, labelOf) },
  heldOutShare: {
    label: 'Share held out',
    say: ({ split, heldOutShare }) => (splitsByShare(split) ? showPercent(heldOutShare) : null),
  },
  sealedShare: {
    label: 'Share sealed',
    say: ({ split, sealedShare }) => (splitsByShare(split) ? showPercent(sealedShare) : null),
  },
  folds: { label: 'Folds', say: ({ folds }, labelOf) => foldsWords(folds, labelOf) },
  seed: { label: 'Seed', say: ({ seed }) => String(seed) },
  missedCost: { label: 'A missed case costs', say: ({ missedCost }) => showExact(missedCost) },
  falseAlarmCost: {
    label: 'A false alarm costs',
    say: ({ falseAlarmCost }) => showExact(falseAlarmCost),
  },
  ownCosts: {
    label: 'Costs by patient',
    say: ({ ownCosts: { missed, falseAlarm } }, labelOf) => [
      ...(missed ? [`a missed case: ${labelOf(missed)}`] : []),
      ...(falseAlarm ? [`a false alarm: ${labelOf(falseAlarm)}`] : []),
    ],
  },
  costUnit: { label: 'Costs in', say: ({ costUnit }) => costUnit || 'a unit of its own' },
  levelCosts: {
    label: 'Costs of wrong levels',
    say: ({ kind, levelCosts }) =>
      kind !== 'levels'
        ? null
        : levelCosts
          ? levelCosts.levels.flatMap((level, i) =>
              levelCosts.levels.flatMap((given, k) =>
                i === k ? [] : [`${level} taken for ${given}: ${levelCosts.costs[i][k]}`],
              ),
            )
          : 'the same for every error',
  },
  preparation: {
    label: 'Preparation',
    say: ({ preparation }, labelOf) =>
      preparation.map(
        (step, i) => `${i + 1}. ${stepOf(step.step).name}: ${stepText(step, labelOf)}`,
      ),
  },
  balancing: {
    label: 'Balance of cases',
    say: ({ kind, balancing }) =>
      kind !== 'event'
        ? null
        : balancing.way === 'none'
          ? balancingWays.none.name
          : `${balancingWays[balancing.way].name}, to ${showPercent(balancing.share)}${'neighbours' in balancing ? `, ${balancing.neighbours} nearest` : ''}`,
  },
};

type Said = string | string[] | null;

const kindWords: { [K in OutcomeKind]: string } = {
  event: 'yes or no',
  levels: 'several levels',
  number: 'a number',
};

/** Where two designs say different things: what each says, of lists what it alone has. */
export interface FieldDifference {
  label: string;
  one: string;
  other: string;
}

/** Two designs field by field; empty where they say the same. */
export function differencesBetween(
  one: Design,
  other: Design,
  labelOf: LabelOf,
): FieldDifference[] {
  return Object.values(fields).flatMap(({ label, say }) => {
    const [a, b] = [say(one, labelOf), say(other, labelOf)];
    if (JSON.stringify(a) === JSON.stringify(b)) return [];
    return [{ label, one: inWords(a, b), other: inWords(b, a) }];
  });
}

function inWords(said: Said, other: Said): string {
  if (said === null) return '–';
  if (typeof said === 'string') return said;
  const known = new Set(Array.isArray(other) ? other : []);
  const own = said.filter((one) => !known.has(one));
  const count = `${said.length}`;
  if (said.length === 0) return 'none';
  if (own.length === said.length) return own.join('; ');
  return own.length > 0 ? `${count}, only here: ${own.join('; ')}` : count;
}
