import type { KeyboardEvent } from 'react';

/**
 * Moves the focus to the same control of the row above or below.
 *
 * @returns whether there was one
 */
export function moveBetweenRows(event: KeyboardEvent<HTMLElement>, by: 1 | -1): boolean {
  const target = event.target as HTMLElement;
  const row = target.closest('tr');
  const place = row && controlsOf(row).indexOf(target);
  if (!row || place === null || place < 0) return false;
  for (
    let next = by > 0 ? row.nextElementSibling : row.previousElementSibling;
    next;
    next = by > 0 ? next.nextElementSibling : next.previousElementSibling
  ) {
    const control = controlsOf(next)[place] as HTMLElement | undefined;
    if (!control) continue;
    event.preventDefault();
    control.focus();
    if (control instanceof HTMLInputElement) control.select();
    return true;
  }
  return false;
}

function controlsOf(row: Element): HTMLElement[] {
  return [...row.querySelectorAll<HTMLElement>('input, select, button')];
}
