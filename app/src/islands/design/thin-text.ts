import type { ThinInput } from '@rook-scale/core/preparation';
import { plural, showCount } from '../../browser/format.ts';

/** What became of something that too few patients stand behind, in one sentence. */
export function thinText(thin: ThinInput, labelOf: (column: string) => string): string {
  const label = labelOf(thin.column);
  if (thin.what === 'together')
    return `${thin.columns.map(labelOf).join(', ')} go empty together: one indicator stands for them all.`;
  const who = `${plural(thin.patients, 'patient')}${outcomeOf(thin)}`;
  if (thin.what === 'gap')
    return `${label} not known (${who}): filled, without an indicator of its own.`;
  if (thin.what === 'number') return `${label} is the same in all but a few (${who}): left out.`;
  return thin.into === null
    ? `${label} ${thin.level} (${who}): no other level is left beside it, so ${label} is left out.`
    : `${label} ${thin.level} (${who}): taken together as ${thin.into}.`;
}

/** Of whom so many have the event, or another level than most of them. */
function outcomeOf({ events, others }: { events?: number; others?: number }): string {
  if (events !== undefined) return `, ${showCount(events)} with the event`;
  return others === undefined ? '' : `, ${showCount(others)} of them with another level than most`;
}
