import { useQuery } from '@tanstack/react-query';
import type { Calculations } from './calculate.ts';

/** The result of a calculation beside the page; undefined until it is there or while `given` is. */
export function useCalculation<Name extends keyof Calculations>(
  name: Name,
  /** Names what is given among all that is asked; the last part is what a slider sets. */
  key: (string | number | undefined)[],
  given: Parameters<Calculations[Name]> | undefined,
): { result: ReturnType<Calculations[Name]> | undefined; problem: string | undefined } {
  const { data, error } = useQuery({
    queryKey: ['calculation', name, ...key],
    // Nothing at all is no answer for the store.
    queryFn: async () => ({ result: await ask<ReturnType<Calculations[Name]>>(name, given!) }),
    enabled: given !== undefined,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    // While a slider moves, the picture before stays; that of another column never does.
    placeholderData: (before, asked) =>
      asked && JSON.stringify(asked.queryKey.slice(2, -1)) === JSON.stringify(key.slice(0, -1))
        ? before
        : undefined,
    meta: { lasting: true },
  });
  return { result: data?.result, problem: error?.message };
}

let worker: Worker | undefined;
let last = 0;
const open = new Map<number, { done: (result: never) => void; failed: (error: Error) => void }>();

function ask<Result>(name: string, given: unknown[]): Promise<Result> {
  worker ??= begin();
  const id = ++last;
  return new Promise<Result>((resolve, reject) => {
    open.set(id, { done: resolve, failed: reject });
    worker!.postMessage({ id, name, given });
  });
}

function begin(): Worker {
  const made = new Worker(new URL('./calculate.worker.ts', import.meta.url), { type: 'module' });
  made.onmessage = ({ data }: MessageEvent<{ id: number; result: never; error?: string }>) => {
    const asked = open.get(data.id);
    open.delete(data.id);
    if (data.error === undefined) asked?.done(data.result);
    else asked?.failed(new Error(data.error));
  };
  return made;
}
