import { developmentCohort, toCsv } from '@rook-scale/demo';

/** A made-up cohort with twenty columns: identifier, site, outcome and numbers of one decimal. */
export function narrowCsv(patients: number): Buffer {
  const labs = Array.from({ length: 17 }, (_, j) => `lab_${j + 1}`);
  const pieces = [Buffer.from(`reference,site,${labs.join(',')},died\n`)];
  let lines: string[] = [];
  for (let i = 0; i < patients; i++) {
    let line = `P${i},${'ABCD'[i % 4]}`;
    for (let j = 0; j < labs.length; j++)
      line += (i + j) % 23 === 0 ? ',' : `,${((i * 7919 + j * 104_729) % 1000) / 10}`;
    lines.push(`${line},${i % 9 === 0 ? 'yes' : 'no'}`);
    if (lines.length === 10_000 || i === patients - 1) {
      pieces.push(Buffer.from(`${lines.join('\n')}\n`));
      lines = [];
    }
  }
  return Buffer.concat(pieces);
}

/**
 * A made-up cohort of any size as CSV, with so many columns in all: beyond those of the demo they
 * hold labs of one decimal, seeded by their place. Patients repeat after 100,000.
 */
export function wideCsv(patients: number, columns: number): Buffer {
  const [header, ...rows] = toCsv(developmentCohort(Math.min(patients, 100_000)))
    .trimEnd()
    .split(/\r?\n/);
  const extra = Math.max(0, columns - header.split(',').length);
  const names = Array.from({ length: extra }, (_, j) => `,lab_${j + 1}`).join('');
  const pieces = [Buffer.from(`${header}${names}\n`)];
  let lines: string[] = [];
  for (let i = 0; i < patients; i++) {
    let line = rows[i % rows.length];
    for (let j = 0; j < extra; j++) line += `,${((i * 7919 + j * 104_729) % 1000) / 10}`;
    lines.push(line);
    if (lines.length === 10_000 || i === patients - 1) {
      pieces.push(Buffer.from(`${lines.join('\n')}\n`));
      lines = [];
    }
  }
  return Buffer.concat(pieces);
}
