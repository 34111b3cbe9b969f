import type { CandidateLine } from '../../contract/candidates.ts';
import { listWords, plural } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import type { MarginNote } from '../margin/index.ts';

/** AUC or R² out of fold beyond which a leak is likelier than so good a model (common practice). */
const tooGood = 0.98;

/** Candidates that predict better than patients can be predicted, whichever is selected. */
export function tooGoodNote(lines: CandidateLine[], studyId: string): MarginNote[] {
  const found = lines.flatMap((line) => {
    const seen = line.results && tooGoodFigure(line.results);
    return seen ? [{ line, seen }] : [];
  });
  if (found.length === 0) return [];
  const what = found.map(({ line, seen }) => `${line.name} (${seen})`);
  return [
    {
      id: `too good · ${found.map(({ line }) => line.id).join(' · ')}`.slice(0, 300),
      title: 'Too good to be true?',
      ...(what.length > 3 ? { list: what } : {}),
      text: `${what.length > 3 ? plural(what.length, 'candidate') : listWords(what, 'and')} out of fold. A predictor may be recorded after the outcome, or derived from it. Check the strongest predictors before you trust these figures.`,
      acts: [
        {
          label: 'Show the predictors by strength',
          href: `/studies/${studyId}/survey?view=relations`,
        },
        { label: 'Choose predictors', href: `/studies/${studyId}/design#predictors` },
      ],
    },
  ];
}

function tooGoodFigure(results: NonNullable<CandidateLine['results']>): string | undefined {
  const { area, figures } = results;
  if (area && area.mean > tooGood) return `AUC ${nearOne(area.mean)}`;
  const explained = figures?.['r squared']?.value;
  return explained !== undefined && explained > tooGood ? `R² ${nearOne(explained)}` : undefined;
}

const nearOne = (value: number): string => (value > 0.999 ? '>0.999' : showFixed(value, 3));
