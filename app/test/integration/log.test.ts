import { afterEach, expect, it, vi } from 'vitest';
import { DrizzleQueryError } from 'drizzle-orm/errors';
import { logError } from '../../src/server/ground/log.ts';

afterEach(() => vi.restoreAllMocks());

it('no value of a statement reaches the log, only its code and where it arose', () => {
  const written: string[] = [];
  vi.spyOn(console, 'error').mockImplementation((line: string) => written.push(line));
  const cause = Object.assign(new Error('duplicate key (name)=(Ada, creatinine 412)'), {
    code: '23505',
    severity: 'ERROR',
  });
  logError(
    'error 1',
    new DrizzleQueryError('insert into x values ($1)', ['creatinine 412'], cause),
  );
  logError('error 2', cause);
  logError('error 3', new TypeError('x is not a function'));
  expect(written[0]).toMatch(/^error 1: .*\(23505\)\n\s+at /);
  expect(written[1]).toMatch(/^error 2: Error \(23505\)/);
  expect(written[2]).toMatch(/^error 3: TypeError: x is not a function/);
  expect(written.join()).not.toMatch(/412|Ada/);
});
