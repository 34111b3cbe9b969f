import type { DivisionCounts, SplitWay } from '@rook-scale/core/design';
import type { Overview } from '../../contract/studies.ts';
import { showCost, showCount, showDate, showPercent } from '../../browser/format.ts';

export type StageId =
  | 'records'
  | 'survey'
  | 'design'
  | 'candidates'
  | 'held-out-check'
  | 'reasons'
  | 'screening';

interface Stage {
  id: StageId;
  name: string;
  /** The one live fact of the stage. */
  fact: (overview: Overview) => string;
  outOfDate?: (overview: Overview) => boolean;
}

/** The path, in the order the work is done. */
export const stages: Stage[] = [
  {
    id: 'records',
    name: 'Records',
    fact: ({ cohort }) =>
      cohort
        ? `${showCount(cohort.rowCount)} patients, ${cohort.columnCount} columns`
        : 'no patients yet',
  },
  { id: 'survey', name: 'Survey', fact: surveyFact },
  { id: 'design', name: 'Design', fact: designFact },
  {
    id: 'candidates',
    name: 'Candidates',
    fact: candidatesFact,
    outOfDate: ({ candidates }) => candidates.outOfDate > 0,
  },
  { id: 'held-out-check', name: 'Held-out check', fact: looksFact },
  { id: 'reasons', name: 'Reasons', fact: reasonsFact },
  { id: 'screening', name: 'Screening', fact: screeningFact },
];

function surveyFact({ cohort, design }: Overview): string {
  if (!cohort) return 'waits for patients';
  const development = design?.counts?.development.patients;
  return development === undefined
    ? `all ${showCount(cohort.rowCount)} patients`
    : `${showCount(development)} for development`;
}

function designFact({ design, cohort }: Overview): string {
  if (!cohort || !design) return 'waits for patients';
  if (design.obstacle) return 'cannot be carried out';
  if (!design.counts) {
    const { outcome, kind } = design.choices;
    if (!outcome) return 'outcome not chosen';
    return kind === 'event' ? 'event not chosen' : 'cases not chosen';
  }
  return `${heldOutText(design.counts)} held out, ${wayText[design.choices.split.way]}`;
}

const wayText: { [Way in SplitWay]: string } = {
  'by chance': 'by outcome',
  'by group': 'by group',
  'by date': 'by date',
  'by column': 'as marked',
  'by rows': 'by rows',
  'as brought in': 'as a file says',
  'second file': 'a second file',
};

function heldOutText({ development, heldOut, sealed }: DivisionCounts): string {
  const all = development.patients + heldOut.patients + (sealed?.patients ?? 0);
  return showPercent(heldOut.patients / Math.max(1, all));
}

function candidatesFact({ candidates, design }: Overview): string {
  if (candidates.atWork > 0) return `${candidates.atWork} being fitted`;
  if (candidates.outOfDate > 0) return `${candidates.outOfDate} out of date`;
  if (!design?.counts) return 'wait for the design';
  if (candidates.bestCost === null) return 'reference only';
  return `${candidates.fitted} fitted, best cost ${showCost(candidates.bestCost)}`;
}

function looksFact({ looks }: Overview): string {
  const before = looks.earlier > 0 ? `, ${looks.earlier} before the split` : '';
  if (looks.count === 0 || !looks.first) return `no look yet${before}`;
  return `${looks.count === 1 ? '1 look' : `${looks.count} looks`} since ${showDate(looks.first).slice(0, -5)}${before}`;
}

function reasonsFact({ candidates }: Overview): string {
  // The reference candidate has none.
  const count = candidates.fitted - 1;
  return count < 1
    ? 'wait for a candidate'
    : `of ${count === 1 ? '1 candidate' : `${count} candidates`}`;
}

function screeningFact({ screening }: Overview): string {
  if (screening.cohorts === 0) return 'no list yet';
  const lists = screening.cohorts === 1 ? '1 list' : `${screening.cohorts} lists`;
  return `${lists}, ${screening.scored} scored`;
}
