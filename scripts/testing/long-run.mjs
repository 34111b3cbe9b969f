import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from '../packages.mjs';

const file = join(root, 'docs/long-run.md');

/** Puts the result of a long run, or of a measurement of coverage, in its place in the document, with date and commit. */
export function noteResult(heading, lines) {
  const { stdout } = spawnSync('git', ['rev-parse', '--short', 'HEAD'], {
    cwd: root,
    encoding: 'utf8',
  });
  const day = new Date().toISOString().slice(0, 10);
  const body = [`${day}, commit ${stdout.trim()}.`, '', '```', ...lines, '```', ''].join('\n');
  const sections = readFileSync(file, 'utf8').split(/^(?=## )/m);
  const place = sections.findIndex((section) => section.startsWith(`## ${heading}\n`));
  if (place < 0) throw new Error(`docs/long-run.md has no section ${heading}.`);
  sections[place] = `## ${heading}\n\n${body}\n`;
  writeFileSync(file, `${sections.join('').trimEnd()}\n`);
}
