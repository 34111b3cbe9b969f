import { splitsByShare, type Design } from '@rook-scale/core/design';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { usualSensitivity, widthOfShare } from '@rook-scale/core/planning';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { DesignState } from '../../contract/designs.ts';
import { plural, showCount, showPercent } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import type { MarginNote } from '../margin/index.ts';

interface Seen {
  state: DesignState;
  design: Design;
  outcome: DictionaryEntry | undefined;
  cohort: CohortInfo;
  change: (part: Partial<Design>) => void;
}

/** Held-out events below which sensitivity is little more than a guess (common practice). */
const enoughHeldOut = 50;

/** What is worth a remark about a design. */
export function designNotes(seen: Seen): MarginNote[] {
  const { state, design, outcome, change } = seen;
  const { counts, questions } = state;
  const notes: MarginNote[] = questions.map((text) => ({
    id: text,
    standing: true,
    title: 'Still to choose',
    text,
  }));
  if (!counts || !outcome) return notes;
  const { development, heldOut, sealed, unused } = counts;
  const have = haveWords[design.kind];
  const wrongWay = wrongWayRound(seen);
  if (wrongWay) notes.push(wrongWay);
  const known = development.patients + heldOut.patients + (sealed?.patients ?? 0);
  const share = (development.events + heldOut.events + (sealed?.events ?? 0)) / known;
  if (Math.min(share, 1 - share) < 0.15)
    notes.push({
      id: `unbalanced · ${outcome.name}`,
      title: 'Few patients on one side',
      text: `${showPercent(share)} of ${plural(known, 'patient')} ${have}. Calling ${share < 0.5 ? 'nobody' : 'everyone'} in is right in ${showPercent(Math.max(share, 1 - share))} of them, so accuracy says nothing: costs and sensitivity do.`,
      acts: [{ label: 'Set the error costs', href: '#costs' }],
    });
  const size = sizeNote(seen, development);
  if (size) notes.push(size);
  if (heldOut.events < enoughHeldOut) notes.push(fewHeldOut(seen, heldOut.events, share, known));
  if (unused > 0)
    notes.push({
      id: `outcome not known · ${outcome.name}`,
      title: 'Outcome not known',
      text: `${plural(unused, 'patient')} without a known ${display(outcome)} are on neither side.`,
    });
  if (design.missedCost === design.falseAlarmCost)
    notes.push({
      id: 'equal costs',
      title: 'Both errors cost the same',
      text: 'In screening a missed case mostly weighs more than a false alarm. The cutoff follows from these costs.',
      acts: [
        {
          label: 'Missed case costs 5 ×',
          onClick: () => change({ missedCost: 5 * design.falseAlarmCost }),
        },
      ],
    });
  if (counts.unplaced)
    notes.push({
      id: 'not placed',
      title: 'On neither side',
      text: `${plural(counts.unplaced, 'patient')} with a known outcome ${counts.unplaced === 1 ? 'is' : 'are'} neither for development nor held out: ${whyNotPlaced(design)}`,
    });
  const torn = tornGroups(seen);
  if (torn) notes.push(torn);
  if (design.split.way === 'by chance')
    notes.push({
      id: 'split',
      standing: true,
      title: 'How patients are divided',
      text: `By outcome, with seed ${design.seed}: in each ${design.kind === 'number' ? 'fifth of the numbers' : 'level'} the held-out share is exact to one patient. Rows with the same identifier stay together, and the order of the file plays no part.`,
    });
  return notes;
}

function whyNotPlaced({ split }: Design): string {
  if (split.way === 'by date') return 'their date is not known.';
  if (split.way === 'by column') return 'their mark is not known.';
  return 'the file does not name them.';
}

/** Hospitals are kept apart between the sides, and yet cut through by the folds. */
function tornGroups({ design, change }: Seen): MarginNote | undefined {
  const { split, folds } = design;
  if (split.way !== 'by group' || folds.way !== 'by chance') return undefined;
  const { column } = split;
  return {
    id: `folds cut groups · ${column}`,
    title: 'The folds cut through the groups',
    text: 'Held-out groups are kept apart from those learned from, but inside cross-validation each fold is predicted by what its own groups taught. Out-of-fold figures will look better than the held-out ones.',
    acts: [
      {
        label: 'Deal the folds by group too',
        onClick: () => change({ folds: { way: 'by group', column, count: folds.count } }),
      },
    ],
  };
}

/** What patients do who are to be found. */
const haveWords: { [K in OutcomeKind]: string } = {
  event: 'have the event',
  levels: 'are cases',
  number: 'are cases',
};

function fewHeldOut(
  { design, change }: Seen,
  events: number,
  share: number,
  known: number,
): MarginNote {
  const have = haveWords[design.kind];
  const wanted = Math.ceil((100 * enoughHeldOut) / (share * known)) / 100;
  const width = Math.round(100 * widthOfShare(usualSensitivity, events));
  const more =
    splitsByShare(design.split) &&
    wanted > design.heldOutShare &&
    wanted + design.sealedShare <= 0.5;
  return {
    id: 'few held-out events',
    title: 'Few held-out events',
    text: `${showCount(events)} held-out patients ${have}. Sensitivity will come with an interval about ${width} points wide at 80%.`,
    acts: more
      ? [
          {
            label: `Hold out ${Math.round(100 * wanted)}%`,
            onClick: () => change({ heldOutShare: wanted }),
          },
        ]
      : [{ label: 'Set the share', href: '#held-out' }],
  };
}

const noWords = /^(no|none|not? .*|negative|absent|healthy|alive|survived|normal|0|false)$/i;

/** The event is the level that says nothing happened, or that most patients have. */
function wrongWayRound({ design, outcome, cohort, change }: Seen): MarginNote | undefined {
  const levels = outcome?.levels ?? [];
  const others = levels.filter((level) => level !== design.event);
  if (design.kind !== 'event' || !outcome || others.length !== 1) return undefined;
  const [other] = others;
  const counts = cohort.summaries[cohort.dictionary.indexOf(outcome)]?.counts ?? [];
  const count = (level: string) => counts[levels.indexOf(level)] ?? 0;
  const most = count(design.event) > count(other);
  if (!noWords.test(design.event) && !(most && !noWords.test(other))) return undefined;
  return {
    id: `wrong way round · ${outcome.name} · ${design.event}`,
    title: 'Is the event the right way round?',
    text: `The event is “${design.event}”, which ${showCount(count(design.event))} of ${showCount(count(design.event) + count(other))} patients have. If “${other}” is what is to be found, sensitivity and specificity would be swapped.`,
    acts: [{ label: `Make “${other}” the event`, onClick: () => change({ event: other }) }],
  };
}

/** Below these the coefficients vary much from sample to sample (common practice). */
const enoughPerParameter = { cases: 10, patients: 15 };

/** Where the development patients are few for the parameters that the design asks for. */
function sizeNote(
  { design, cohort }: Seen,
  { patients, events }: { patients: number; events: number },
): MarginNote | undefined {
  const parameters = parametersOf(design.predictors, cohort);
  if (parameters === 0) return undefined;
  const isNumber = design.kind === 'number';
  const count = isNumber ? patients : Math.min(events, patients - events);
  const each = count / parameters;
  const enough = isNumber ? enoughPerParameter.patients : enoughPerParameter.cases;
  if (each >= enough) return undefined;
  const who = isNumber ? 'patients' : events <= patients - events ? 'cases' : 'non-cases';
  return {
    id: 'few events per predictor',
    title: `Few ${who} per parameter`,
    text: `${showCount(count)} development ${who} for about ${plural(parameters, 'parameter')} (levels and missing-value indicators of ${plural(design.predictors.length, 'predictor')} included): ${showFixed(each, 1)} each. Under ${enough} the coefficients are unstable (common practice).`,
    acts: [{ label: 'Choose fewer predictors', href: '#predictors' }],
  };
}

/** Missing values below which no indicator is made of them. */
const fewestMissing = 5;

/** Coefficients of a regression on these predictors: levels less one, and an indicator of missing values. */
function parametersOf(predictors: string[], { dictionary, summaries }: CohortInfo): number {
  return predictors.reduce((sum, name) => {
    const place = dictionary.findIndex((entry) => entry.name === name);
    if (place < 0) return sum + 1;
    const { counts, missing } = summaries[place];
    const levels = counts?.filter((count) => count > 0).length ?? 2;
    return sum + Math.max(1, levels - 1) + Number(missing >= fewestMissing);
  }, 0);
}
