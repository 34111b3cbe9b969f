import type { Design } from '@rook-scale/core/design';
import type { DictionaryEntry } from '@rook-scale/core/table';
import { marksOfLevels, type Mark } from '../../components/index.ts';

const event = '#c77d0a';
const none = '#3e6c99';

/** The marks of a column's levels: event filled, no event a ring; ordered levels on one ramp. */
export function marksOf(entry: DictionaryEntry, design: Design | undefined): Mark[] {
  const levels = entry.levels ?? [];
  const eventLevel =
    entry.name === design?.outcome && design.event
      ? design.event
      : entry.kind === 'yes/no'
        ? 'yes'
        : undefined;
  if (eventLevel !== undefined && levels.length === 2)
    return levels.map((level) =>
      level === eventLevel
        ? { level, colour: event, shape: 'circle', filled: true }
        : { level, colour: none, shape: 'circle', filled: false },
    );
  return marksOfLevels(levels, entry.kind === 'ordered category');
}

/** One colour for what belongs to no level. */
export const plainColour = none;
