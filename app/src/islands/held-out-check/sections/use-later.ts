import { useEffect, useState } from 'react';

/**
 * What takes longer than a frame where patients are many: worked out once the page is drawn.
 *
 * @param work the same function as long as what it stands on is the same
 * @returns undefined until it is there
 */
export function useLater<Result>(work: () => Result): Result | undefined {
  const [done, setDone] = useState<{ work: () => Result; result: Result }>();
  useEffect(() => {
    const timer = setTimeout(() => setDone({ work, result: work() }));
    return () => clearTimeout(timer);
  }, [work]);
  return done?.work === work ? done.result : undefined;
}
