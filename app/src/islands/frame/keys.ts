import { useEffect } from 'react';
import { isTyping } from '../../browser/typing.ts';

/** Whether a key press is in a place where typing has its own undo. */
function hasOwnUndo(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.closest('input:not([type=checkbox], [type=radio]), textarea, dialog') !== null;
}

export interface FrameActs {
  stage: (position: number) => void;
  search: () => void;
  keys: () => void;
  undo: () => void;
  redo: () => void;
}

/** The keys of every page. Those of the cutoff and of the margin stand with them. */
export function useFrameKeys(acts: FrameActs) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const act = chosen(event, acts);
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [acts]);
}

function chosen(event: KeyboardEvent, acts: FrameActs): (() => void) | undefined {
  if (event.altKey) return undefined;
  const key = event.key.toLowerCase();
  if (event.ctrlKey || event.metaKey) {
    if (key === 'k') return acts.search;
    if (hasOwnUndo(event.target)) return undefined;
    if (key === 'z') return event.shiftKey ? acts.redo : acts.undo;
    return key === 'y' ? acts.redo : undefined;
  }
  if (isTyping(event.target)) return undefined;
  if (key === '/') return acts.search;
  if (key === '?') return acts.keys;
  const position = Number(key);
  return position >= 1 && position <= 8 ? () => acts.stage(position) : undefined;
}

/** The list behind `?`. */
export const keyList: { group: string; keys: { keys: string[]; does: string }[] }[] = [
  {
    group: 'Everywhere',
    keys: [
      { keys: ['/'], does: 'find a page, a column, a candidate or an act' },
      { keys: ['Ctrl', 'K'], does: 'the same, also while typing' },
      { keys: ['Ctrl', 'Z'], does: 'undo the last change of dictionary or design' },
      { keys: ['Ctrl', 'Shift', 'Z'], does: 'do it again' },
      { keys: ['n'], does: 'next margin note' },
      { keys: ['?'], does: 'this list' },
      { keys: ['Esc'], does: 'close what is open' },
    ],
  },
  {
    group: 'Tables',
    keys: [
      { keys: ['↑ ↓'], does: 'the patient above or below, and the line of the dictionary' },
      { keys: ['Enter'], does: 'open the patient; in a file under review the field below' },
    ],
  },
  {
    group: 'Risk scale',
    keys: [
      { keys: [','], does: 'cutoff down by 0.01' },
      { keys: ['.'], does: 'cutoff up by 0.01' },
      { keys: ['Shift', ', .'], does: 'by 0.001' },
      { keys: ['← →'], does: 'the same on the marker itself' },
    ],
  },
];
