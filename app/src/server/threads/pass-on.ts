import { DesignError } from '@rook-scale/core/design';
import { FitObstacle } from '@rook-scale/core/families';
import { Problem } from '../ground/problem.ts';

/** An error on its way between threads, where it would lose its class. */
export type Passed =
  | { is: 'design'; message: string }
  | { is: 'fit'; message: string }
  | { is: 'problem'; status: number; code: string; sentence: string }
  | { is: 'other'; error: unknown };

export function passOn(error: unknown): Passed {
  if (error instanceof DesignError) return { is: 'design', message: error.message };
  if (error instanceof FitObstacle) return { is: 'fit', message: error.message };
  if (error instanceof Problem) {
    const { status, code, sentence } = error;
    return { is: 'problem', status, code, sentence };
  }
  return { is: 'other', error };
}

export function passedOn(passed: Passed): Error {
  if (passed.is === 'design') return new DesignError(passed.message);
  if (passed.is === 'fit') return new FitObstacle(passed.message);
  if (passed.is === 'problem') return new Problem(passed.status, passed.code, passed.sentence);
  // Anything can be thrown.
  return passed.error instanceof Error
    ? passed.error
    : new Error('A thread failed without saying why.');
}
