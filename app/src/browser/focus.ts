const kept = 'focus on';

/** How long what was made may take to be drawn. */
const patience = 6000;

/**
 * Puts the focus on what an act has made, as soon as it is drawn: on this page, or on the one that
 * the act leads to.
 */
export function focusOn(selector: string): void {
  sessionStorage.setItem(kept, selector);
  arrive();
}

/** Looks for what the last act has made; called by every page when it is drawn. */
export function arrive(): void {
  const selector = sessionStorage.getItem(kept);
  if (!selector) return;
  const began = Date.now();
  const look = () => {
    if (sessionStorage.getItem(kept) !== selector) return;
    const found = document.querySelector<HTMLElement>(selector);
    if (!found) {
      if (Date.now() - began < patience) setTimeout(look, 50);
      else sessionStorage.removeItem(kept);
      return;
    }
    sessionStorage.removeItem(kept);
    if (found.tabIndex < 0 && !found.hasAttribute('tabindex')) found.tabIndex = -1;
    found.focus();
  };
  look();
}
