import { understand, type Dictionary } from '@rook-scale/core/table';
import type { UploadReview } from '../../contract/uploads.ts';
import { plural, showCount, showSize } from '../../browser/format.ts';
import type { MarginNote } from '../margin/index.ts';

interface Acts {
  leaveOutLast: () => void;
}

/** What is worth a remark about a file as understood. */
export function reviewNotes(
  upload: UploadReview,
  dictionary: Dictionary,
  acts?: Acts,
): MarginNote[] {
  const notes: MarginNote[] = upload.remarks.map(({ code, title, sentence }) => ({
    id: code,
    title,
    text: sentence,
    acts:
      code === 'totals' && acts
        ? [{ label: 'Leave the last row out', onClick: acts.leaveOutLast }]
        : undefined,
  }));
  if (!dictionary.some((entry) => entry.role === 'outcome'))
    notes.push({
      id: 'no-outcome',
      title: 'No outcome marked yet',
      text: 'Give one column the role outcome here, or choose it later in Design.',
    });
  if (!dictionary.some((entry) => entry.role === 'identifier'))
    notes.push({
      id: 'no-identifier',
      title: 'No identifier',
      text: 'Without one, a patient who stands in the file twice may land on both sides of the split.',
    });
  dictionary.forEach((entry) => {
    const column = upload.columns.find(({ tally }) => tally.name === entry.name);
    if (!column) return;
    const { unreadable, examples } = understand(column.tally, entry);
    if (unreadable > 0)
      notes.push({
        id: `unreadable-${entry.name}`,
        title: `${entry.name}: ${showCount(unreadable)} unreadable`,
        text: `Not ${entry.kind === 'number' || entry.kind === 'date' ? `a ${entry.kind}` : 'yes or no'}: ${examples.join(', ')}. They will be stored as not known, unless another kind fits.`,
      });
    const { reason } = column.proposal;
    if (/perhaps codes/.test(reason) && entry.kind === 'number')
      notes.push({ id: `codes-${entry.name}`, title: `${entry.name}: codes?`, text: reason });
    if (column.proposal.asks && entry.kind === 'text')
      notes.unshift({
        id: `asks-${entry.name}`,
        title: `${entry.name}: thousands or decimals?`,
        text: reason,
      });
    if (/could also be read/.test(reason) && entry.kind === 'date')
      notes.push({
        id: `dates-${entry.name}`,
        title: `${entry.name}: which way round?`,
        text: reason,
      });
  });
  notes.push({
    id: 'file',
    title: upload.fileName,
    text: `${showSize(upload.size)}, ${plural(upload.rowCount, 'row')}, ${plural(upload.columns.length, 'column')}.`,
  });
  return notes;
}
