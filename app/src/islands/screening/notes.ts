import { display } from '@rook-scale/core/table';
import type { CohortCheck, ScreeningView } from '../../contract/screenings.ts';
import { plural, showCount, showPercent } from '../../browser/format.ts';
import type { MarginNote, NoteAct } from '../margin/index.ts';
import { isShifted, missingShare, shiftText } from './ColumnsCompared.tsx';

/** Where more patients are unlike the development patients than chance would have it. */
export function unusualNotes({ unusual, rowCount }: ScreeningView, listId: string): MarginNote[] {
  const expected = 0.01 * rowCount;
  // Beyond what two SDs of a count by chance would add.
  if (!unusual || unusual.patients <= expected + 2 * Math.sqrt(expected) + 1) return [];
  return [
    {
      id: `unusual · ${listId}`,
      title: plural(unusual.patients, 'unusual patient'),
      text: `All predictors together, they are more unlike the development patients than 99 of 100 of these were: ${showPercent(unusual.patients / rowCount)}, where 1% would be expected. They are marked in the list and in the file; what was measured in development says little about patients like these.`,
    },
  ];
}

const foundBy: Record<NonNullable<CohortCheck['studyPatients']>['by'], string> = {
  identifier: 'identifier',
  values: 'equal values',
  'identifier and values': 'identifier, and some by equal values',
};

/** Patients of the study in the list: what is known of them is not what a new patient would show. */
function studyNote(
  { by, development, heldOut, sealed }: NonNullable<CohortCheck['studyPatients']>,
  listId: string,
): MarginNote {
  const parts = [
    development > 0 &&
      `${plural(development, 'development patient')}, of whom the model has learned`,
    heldOut > 0 &&
      `${plural(heldOut, 'held-out patient')}, whose outcomes are shown only after a look`,
    sealed > 0 && `${plural(sealed, 'sealed patient')}, whose outcomes stay closed`,
  ].filter((part) => part !== false);
  return {
    id: `of the study · ${listId}`,
    title: `${plural(development + heldOut + sealed, 'patient')} of this study in the list`,
    text: `Found by ${foundBy[by]}: ${parts.join('; ')}. Outcomes in this list do not tell how new patients fare.`,
  };
}

/** What is gravest about how a list meets the model. */
export function comparisonNotes(
  check: CohortCheck,
  listId: string,
  onCompare?: () => void,
): MarginNote[] {
  const acts: NoteAct[] | undefined = onCompare && [
    { label: 'Compare the columns', onClick: onCompare },
  ];
  const notes: MarginNote[] = [];
  if (check.studyPatients) notes.push(studyNote(check.studyPatients, listId));
  const used = check.predictors.filter(({ isUnused }) => !isUnused);
  const absent = used.filter((one) => one.absent);
  if (absent.length > 0)
    notes.push({
      id: `absent · ${listId}`,
      title: `${plural(absent.length, 'predictor')} not in the file`,
      text: `${absent.map(display).join(', ')}: filled for everyone with what was usual among development patients. The risks discriminate less than they did in development.`,
      acts,
    });
  if (check.unfamiliarPatients > 0) {
    const which = check.predictors.filter(({ unfamiliar }) => unfamiliar.length > 0);
    notes.push({
      id: `too little · ${listId}`,
      title: `${plural(check.unfamiliarPatients, 'risk rests', 'risks rest')} on too little`,
      text: `${which.map(display).join(', ')}: values that no or hardly any development patient had. These patients are marked in the list and in the file; judge them without the model.`,
      acts,
    });
  }
  const shifted = used
    .filter(isShifted)
    .sort((a, b) => Math.abs(b.shift!.size) - Math.abs(a.shift!.size));
  if (shifted.length > 0)
    notes.push({
      id: `unlike · ${listId}`,
      title: 'Unlike the development patients',
      text: `Means and shares then → now. ${shifted
        .slice(0, 4)
        .map((one) => `${display(one)}: ${shiftText(one)}`)
        .join(
          '; ',
        )}${shifted.length > 4 ? `; and ${shifted.length - 4} more` : ''}. What was measured in development may not hold for patients like these.`,
      acts,
    });
  for (const one of used.filter(({ newLevels }) => newLevels.length > 0))
    notes.push({
      id: `new · ${one.name} · ${listId}`,
      title: `New in ${display(one)}`,
      text: `No development patient had ${one.newLevels.map(({ level, rows }) => `${level} (${showCount(rows)} here)`).join(', ')}. The model knows nothing of it and treats it as not known.`,
      acts,
    });
  const emptier = used.filter(
    (one) => !one.absent && missingShare(one, check.rowCount) > one.gapShareThen + 0.1,
  );
  if (emptier.length > 0)
    notes.push({
      id: `emptier · ${listId}`,
      title: 'More gaps than among development patients',
      text: emptier
        .map(
          (one) =>
            `${display(one)} ${showPercent(missingShare(one, check.rowCount))}, then ${showPercent(one.gapShareThen)}`,
        )
        .join('; '),
      acts,
    });
  return notes;
}
