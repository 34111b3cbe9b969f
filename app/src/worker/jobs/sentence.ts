import { randomUUID } from 'node:crypto';
import { DesignError } from '@rook-scale/core/design';
import { FitObstacle } from '@rook-scale/core/families';
import { logError } from '../../server/ground/log.ts';
import { Problem } from '../../server/ground/problem.ts';

/**
 * An error in words that can be shown; an unexpected one is logged under a reference.
 *
 * @param unexpected what is said of such a one
 */
export function sentenceOf(error: unknown, what: string, unexpected: string): string {
  if (error instanceof Problem) return error.sentence;
  if (error instanceof DesignError || error instanceof FitObstacle) return error.message;
  const reference = randomUUID().slice(0, 8);
  logError(`${what} error ${reference}`, error);
  return `${unexpected} Reference ${reference}.`;
}
