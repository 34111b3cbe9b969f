import { allSaved, isSaving } from './edits.ts';

/** Goes to another page of ours, once what is being saved is saved. */
export async function goTo(address: string): Promise<void> {
  // Seen as a waiting pointer until the page is left.
  if (isSaving()) document.documentElement.dataset.leaving = 'yes';
  await allSaved();
  window.location.assign(address);
}

/** Keeps links from leaving the page while a change of it is under way: it would be lost without a word. */
export function saveBeforeLeaving(): () => void {
  const clicked = (event: MouseEvent) => {
    if (!isSaving() || event.defaultPrevented || event.button !== 0) return;
    if (event.ctrlKey || event.metaKey || event.shiftKey || event.altKey) return;
    const link = event.target instanceof Element ? event.target.closest('a') : null;
    if (!link?.href || link.target || link.download || link.origin !== window.location.origin)
      return;
    event.preventDefault();
    void goTo(link.href);
  };
  document.addEventListener('click', clicked);
  return () => document.removeEventListener('click', clicked);
}
