/** Whether a key press belongs to a control that takes text, or to an open dialog. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return (
    target.closest(
      'input:not([type=checkbox], [type=radio]), select, textarea, dialog, [contenteditable]',
    ) !== null
  );
}
