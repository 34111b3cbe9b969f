import { existsSync, readFileSync } from 'node:fs';
import { relative } from 'node:path';
import { root } from '../packages.mjs';

/** What the parts of a run have found so far, and what they cost. */
export function newTally() {
  return {
    counts: { passed: 0, failed: 0, skipped: 0 },
    /** What failed, repeated at the end, where it is read. */
    failures: [],
    /** Seconds and core-seconds of each part; parts may run side by side. */
    parts: [],
    /** Seconds of each test. */
    times: [],
  };
}

/** Counts what vitest wrote down of a run. */
export function countVitest(tally, file) {
  const { counts, failures, times } = tally;
  const result = read(file);
  counts.passed += result?.numPassedTests ?? 0;
  counts.failed += result ? result.numFailedTests + suitesThatFailedToRun(result, failures) : 1;
  counts.skipped += (result?.numPendingTests ?? 0) + (result?.numTodoTests ?? 0);
  for (const suite of result?.testResults ?? [])
    for (const test of suite.assertionResults) {
      const name = `${relative(root, suite.name)} › ${test.fullName}`;
      times.push({ name, seconds: (test.duration ?? 0) / 1000 });
      if (test.status === 'failed') failures.push(`${name}: ${firstLines(test)}`);
    }
}

/** A file that breaks before its first test counts no failed test; it must not pass as none. */
function suitesThatFailedToRun(result, failures) {
  const broken = result.testResults.filter(
    (suite) =>
      suite.status === 'failed' && !suite.assertionResults.some((test) => test.status === 'failed'),
  );
  failures.push(...broken.map((suite) => `${relative(root, suite.name)} did not run`));
  return broken.length;
}

function firstLines(test) {
  return test.failureMessages.join('\n').split('\n').slice(0, 3).join(' ').slice(0, 400);
}

/** Counts what Playwright wrote down of a run. */
export function countPlaywright(tally, file) {
  const { counts, failures, times } = tally;
  const result = read(file);
  const stats = result?.stats;
  if (!result) failures.push('the tests in a browser did not run');
  for (const spec of specsOf(result?.suites ?? [])) {
    const tries = spec.tests.flatMap(({ results }) => results);
    const name = `app/test/browser/${spec.file} › ${spec.title}`;
    times.push({ name, seconds: tries.reduce((sum, { duration }) => sum + duration, 0) / 1000 });
    if (!spec.ok) failures.push(name);
  }
  counts.passed += stats?.expected ?? 0;
  counts.failed += stats ? stats.unexpected : 1;
  counts.skipped += stats?.skipped ?? 0;
}

function specsOf(suites) {
  return suites.flatMap((suite) => [...(suite.specs ?? []), ...specsOf(suite.suites ?? [])]);
}

function read(file) {
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : undefined;
}

/** The closing lines of a run; the last one is what machines read. */
export function closingLines({ counts, failures, parts, times }) {
  const slowest = times.toSorted((a, b) => b.seconds - a.seconds).slice(0, 20);
  return [
    ...parts.map(
      ({ name, seconds, cores }) =>
        `part: ${name} ${inMinutes(seconds)}, ${Math.round(cores)} core-seconds`,
    ),
    ...slowest.map(({ name, seconds }) => `slow: ${seconds.toFixed(1)} s ${name}`),
    ...failures.map((failure) => `failed: ${failure}`),
    `tests: ${counts.passed} passed, ${counts.failed} failed, ${counts.skipped} skipped`,
  ];
}

function inMinutes(seconds) {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)} min ${String(whole % 60).padStart(2, '0')} s`;
}
