import type { ThinInput } from '@rook-scale/core/preparation';
import { plural, showCount } from '../../browser/format.ts';

/** What became of something that too few patients stand behind, in one sentence. */
export function thinText(thin: ThinInput, labelOf: (column: string) => string): string {
  const label = labelOf(thin.column);
  if (thin.what === 'together')
    return `${thin.columns.map(labelOf).join(', ')} go empty together: one indicator stands for them all.`;
  const who = `${plural(thin.patients, 'patient')}, ${showCount(thin.events)} with the event`;
  if (thin.what === 'gap')
    return `${label} not known (${who}): filled, without an indicator of its own.`;
  if (thin.what === 'number')
    return `${label} is the same in all but ${plural(thin.patients, 'patient')} (${showCount(thin.events)} with the event): left out.`;
  return thin.into === null
    ? `${label} ${thin.level} (${who}): no other level is left beside it, so ${label} is left out.`
    : `${label} ${thin.level} (${who}): taken together as ${thin.into}.`;
}
