import { createContext, useCallback, useContext, useSyncExternalStore } from 'react';

/** The query the page was asked for, so that server and browser draw the same first picture. */
export const AskedQuery = createContext<Record<string, string>>({});

const changed = 'address-changed';

function watch(heard: () => void): () => void {
  window.addEventListener('popstate', heard);
  window.addEventListener(changed, heard);
  return () => {
    window.removeEventListener('popstate', heard);
    window.removeEventListener(changed, heard);
  };
}

/** Sets parts of the address. `push` leaves a step for the back button; `replace` does not. */
export function setAddress(
  parts: Record<string, string | undefined>,
  how: 'push' | 'replace' = 'push',
): void {
  const url = new URL(window.location.href);
  for (const [name, value] of Object.entries(parts))
    if (value === undefined) url.searchParams.delete(name);
    else url.searchParams.set(name, value);
  if (url.href === window.location.href) return;
  if (how === 'push') history.pushState(null, '', url);
  else history.replaceState(null, '', url);
  window.dispatchEvent(new Event(changed));
}

/** One part of the address as state: a link leads to it, and the back button leads back. */
export function useAddress(
  name: string,
): [string | undefined, (value: string | undefined, how?: 'push' | 'replace') => void] {
  const asked = useContext(AskedQuery);
  const value = useSyncExternalStore(
    watch,
    () => new URLSearchParams(window.location.search).get(name) ?? undefined,
    () => asked[name] as string | undefined,
  );
  const set = useCallback(
    (next: string | undefined, how?: 'push' | 'replace') => setAddress({ [name]: next }, how),
    [name],
  );
  return [value, set];
}
