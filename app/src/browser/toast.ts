import { messageOf } from './api.ts';

/** A short word about what was just done, with a way back where there is one. */
export interface Toast {
  id: number;
  text: string;
  fault: boolean;
  act?: { label: string; run: () => void };
}

let shown: Toast[] = [];
let lastId = 0;
const watchers = new Set<() => void>();

export function toast(text: string, act?: Toast['act']): void {
  add({ id: ++lastId, text, fault: false, act });
}

/** Shows what went wrong, in the words of the error. */
export function toastError(error: unknown): void {
  add({ id: ++lastId, text: messageOf(error), fault: true });
}

export function dismissToast(id: number): void {
  shown = shown.filter((one) => one.id !== id);
  watchers.forEach((watcher) => watcher());
}

export const toastStore = {
  subscribe: (watcher: () => void) => {
    watchers.add(watcher);
    return () => watchers.delete(watcher);
  },
  get: () => shown,
};

function add(one: Toast) {
  // The same words twice are one message; more than three at once nobody reads.
  shown = [...shown.filter(({ text }) => text !== one.text), one].slice(-3);
  watchers.forEach((watcher) => watcher());
}
