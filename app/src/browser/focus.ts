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

/**
 * Keeps the focus near the control that was used. Where that control disappears, browsers move the focus to the page,
 * and keyboard users start again from the top.
 *
 * @returns ends it
 */
export function keepFocus(): () => void {
  let turn = 0;
  const watch = (event: Event) => {
    if (event instanceof KeyboardEvent && event.key !== 'Enter') return;
    const own = ++turn;
    const acted = document.activeElement;
    if (acted instanceof HTMLElement && acted !== document.body)
      follow(acted, ancestorsOf(acted), () => own === turn, Date.now() + patience);
  };
  // Before the act itself, which may take the control away at once.
  const kinds = ['click', 'keydown'];
  for (const kind of kinds) document.addEventListener(kind, watch, true);
  return () => {
    for (const kind of kinds) document.removeEventListener(kind, watch, true);
  };
}

/** Waits until the control is taken away or cannot be used for a while, and nothing else has taken the focus. */
function follow(
  acted: HTMLElement,
  around: HTMLElement[],
  isLast: () => boolean,
  until: number,
): void {
  setTimeout(() => {
    if (!isLast() || Date.now() > until) return;
    const isLost = document.activeElement === document.body && !sessionStorage.getItem(kept);
    if (acted.isConnected) {
      if (isLost) acted.focus({ preventScroll: true });
      follow(acted, around, isLast, until);
      return;
    }
    if (!isLost) return;
    const part = around.find((element) => element.isConnected);
    if (part) {
      take(part);
      follow(part, around, isLast, until);
    } else stay('main h1', Date.now() + settling);
  }, 100);
}

/** Parts that can take the focus; where none is left, the page's heading does. */
const parts = 'dialog, section, [role=region], [role=table]';

function ancestorsOf(element: Element): HTMLElement[] {
  const found = element.parentElement?.closest<HTMLElement>(parts);
  return found && !found.parentElement?.matches('main') ? [found, ...ancestorsOf(found)] : [];
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
