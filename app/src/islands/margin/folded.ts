import { useSyncExternalStore } from 'react';

const rememberedAs = 'margin-folded';
const watchers = new Set<() => void>();

/** Whether the margin is folded, on every page alike. */
export function useFolded(): boolean {
  return useSyncExternalStore(watch, isFolded, () => false);
}

export function fold(value: boolean): void {
  localStorage.setItem(rememberedAs, value ? 'yes' : 'no');
  watchers.forEach((watcher) => watcher());
}

function watch(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** As the analyst left it; folded at first where the window is narrow. */
function isFolded(): boolean {
  const remembered = localStorage.getItem(rememberedAs);
  return remembered ? remembered === 'yes' : window.innerWidth < 1100;
}
