// A process that reads one file whose format a package understands. Whatever such a file does to a process, it does it
// to this one, which has limits of memory and time set by the operating system.
import { writeSync } from 'node:fs';
import { serialize } from 'node:v8';
import { readTableFile, type KeptFile } from './table-file.ts';
import { Problem } from '../ground/problem.ts';
import type { Frame, FromApart, ToApart } from './apart-protocol.ts';

const rowsAtOnce = 1000;
const bytesAtOnce = 4 * 1024 * 1024;
const output = 1;

let given: ((bytes: Uint8Array) => void) | undefined;

process.on('disconnect', () => process.exit(1));
process.on('message', (said: ToApart) => {
  if ('bytes' in said) given?.(said.bytes);
  else void read(said);
});

async function read({ size, wanted }: Extract<ToApart, { size: number }>): Promise<void> {
  try {
    let rows: string[][] = [];
    const flush = () => {
      if (rows.length > 0) say({ rows });
      rows = [];
    };
    const read = await readTableFile(
      keptElsewhere(size),
      {
        header: (names) => say({ header: names }),
        row(cells) {
          if (rows.push(cells) >= rowsAtOnce) flush();
        },
      },
      wanted,
    );
    flush();
    say({ read });
  } catch (error) {
    if (error instanceof Problem) {
      const { status, code, sentence } = error;
      say({ problem: { status, code, sentence } });
    } else say({ unreadable: error instanceof Error ? error.name : 'Error' });
  }
  process.exit(0);
}

/** Written at once and in full: the one who reads it sets the pace. */
function say(frame: Frame): void {
  const body = serialize(frame);
  const length = Buffer.alloc(4);
  length.writeUInt32BE(body.length);
  for (const bytes of [length, body])
    for (let at = 0; at < bytes.length;) at += writeSync(output, bytes, at);
}

function keptElsewhere(size: number): KeptFile {
  const slice = (from: number, to: number) =>
    new Promise<Uint8Array>((resolve) => {
      given = resolve;
      process.send!({ from, to } satisfies FromApart);
    });
  return {
    size,
    slice,
    async *stream() {
      for (let at = 0; at < size; at += bytesAtOnce)
        yield await slice(at, Math.min(size, at + bytesAtOnce));
    },
  };
}
