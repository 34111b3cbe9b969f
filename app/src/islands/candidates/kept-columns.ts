import { useSyncExternalStore } from 'react';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { ledgerColumns, type LedgerColumn } from './ledger-columns.ts';

const watchers = new Set<() => void>();
const rememberedAs = (kind: OutcomeKind) => `ledger-columns ${kind}`;

/** Columns of the table as the analyst chose them in this browser, in their order; the usual ones at first. */
export function useKeptColumns(kind: OutcomeKind): LedgerColumn[] {
  const kept = useSyncExternalStore(
    watch,
    () => localStorage.getItem(rememberedAs(kind)),
    () => null,
  );
  const all = ledgerColumns(kind);
  const keys = kept?.split('\n');
  const shown = all.filter(({ key, usual }) => (keys ? keys.includes(key) : usual));
  return shown.length > 1 ? shown : all.filter(({ usual }) => usual);
}

/** @param keys of the columns to be shown; the usual ones where absent */
export function keepColumns(kind: OutcomeKind, keys: string[] | undefined): void {
  if (keys) localStorage.setItem(rememberedAs(kind), ['name', ...keys].join('\n'));
  else localStorage.removeItem(rememberedAs(kind));
  watchers.forEach((watcher) => watcher());
}

function watch(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}
