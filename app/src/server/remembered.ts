import { beforeAnnounced, changedChannel, listen } from './jobs/index.ts';

interface Kept {
  at: number;
  value: Promise<unknown>;
}

const kept = new Map<string, Kept>();
/** Goes up whenever something changes: what was read before is not kept after. */
let version = 0;
let listening = false;

/** However few changes there are, nothing is kept longer. */
const longest = 5000;

/**
 * What pages ask for again and again, read once until something changes: every change is called out
 * to every process (`announce`), and ends what this one has kept.
 */
export async function remembered<T>(what: string, read: () => Promise<T>): Promise<T> {
  if (!listening) {
    listening = true;
    listen(changedChannel, forget);
    beforeAnnounced(forget);
  }
  const known = kept.get(what);
  if (known && Date.now() - known.at < longest) return known.value as Promise<T>;
  const before = version;
  const value = read();
  // Asked for by several pages at once it is read once; a change meanwhile makes it old already.
  kept.set(what, { at: Date.now(), value });
  const drop = () => {
    if (kept.get(what)?.value === value) kept.delete(what);
  };
  value.then(() => version !== before && drop(), drop);
  return value;
}

/** Called with every change, before anyone is told of it. */
function forget(): void {
  version++;
  kept.clear();
}
