const kept = 'focus on';

/** How long what was made may take to be drawn. */
const patience = 6000;

/** Puts the focus on what an act has made, as soon as it is drawn on this page. */
export function focusOn(selector: string): void {
  focusThere(selector);
  arrive();
}

/** The same on the page that the act leads to. */
export function focusThere(selector: string): void {
  sessionStorage.setItem(kept, selector);
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
    take(found);
    stay(selector, Date.now() + settling);
  };
  look();
}

/** While a page settles, what has the focus may be drawn anew, and the focus fall to the page. */
const settling = 1500;

function stay(selector: string, until: number): void {
  const found = document.querySelector<HTMLElement>(selector);
  if (found && document.activeElement === document.body) take(found);
  if (Date.now() < until) setTimeout(() => stay(selector, until), 100);
}

function take(element: HTMLElement): void {
  if (element.tabIndex < 0 && !element.hasAttribute('tabindex')) element.tabIndex = -1;
  element.focus();
}
