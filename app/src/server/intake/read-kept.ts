import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { deserialize } from 'node:v8';
import type { Reading } from '../../contract/uploads.ts';
import {
  formatOf,
  readDelimited,
  type KeptFile,
  type RowReader,
  type Frame,
  type FromApart,
  type TableRead,
  type ToApart,
} from '../files/index.ts';
import { logError } from '../ground/log.ts';
import { Problem } from '../ground/problem.ts';
import { readingMemory, readingTime } from './limits.ts';
import { brokenFile, readerEnded, tooSlow } from './problems.ts';

/**
 * Reads a kept file: delimited text here, any other format in a separate process, because an odd file may end the
 * process in which a package reads it.
 */
export async function readKept(
  file: KeptFile,
  reader: RowReader,
  wanted: Partial<Reading> = {},
): Promise<TableRead> {
  const format = wanted.format ?? (await formatOf(file));
  if (format === undefined) return readDelimited(file.stream(), reader, wanted);
  return readApart(file, reader, { ...wanted, format });
}

async function readApart(
  file: KeptFile,
  reader: RowReader,
  wanted: Partial<Reading>,
): Promise<TableRead> {
  const child = begin(file.size);
  child.on('message', ({ from, to }: FromApart) => {
    void file.slice(from, to).then(
      (bytes) => tell({ bytes }),
      (error: unknown) => child.stdout!.destroy(error instanceof Error ? error : undefined),
    );
  });
  const tell = (said: ToApart) => child.connected && child.send(said, () => undefined);
  const ended = once(child, 'exit') as Promise<[number | null, NodeJS.Signals | null]>;
  // Waited for only where it ends too early.
  ended.catch(() => undefined);
  tell({ size: file.size, wanted });
  try {
    for await (const frame of framesIn(child.stdout!)) {
      if ('header' in frame) reader.header(frame.header);
      else if ('rows' in frame) frame.rows.forEach((cells) => reader.row(cells));
      else if ('read' in frame) return frame.read;
      else if ('problem' in frame) {
        const { status, code, sentence } = frame.problem;
        throw new Problem(status, code, sentence);
      } else throw brokenFile();
    }
    const [, signal] = await ended;
    logError('file not read', new Error(`Its reader ended (${signal ?? 'by itself'}).`));
    throw signal === 'SIGXCPU' || signal === 'SIGKILL' ? tooSlow() : readerEnded();
  } finally {
    child.kill('SIGKILL');
  }
}

/** The shell sets the limits, and becomes the process: data in kilobytes, time of the processor in seconds. */
function begin(bytes: number) {
  const seconds = Math.ceil(readingTime(bytes) / 1000);
  const limits = `ulimit -d ${(2 * readingMemory + 512) * 1024}; ulimit -t ${seconds}; ulimit -c 0; exec "$@"`;
  const script = new URL('./read-apart.js', import.meta.url).pathname;
  return spawn(
    '/bin/sh',
    ['-c', limits, 'sh', process.execPath, `--max-old-space-size=${readingMemory}`, script],
    { stdio: ['ignore', 'pipe', 'ignore', 'ipc'], serialization: 'advanced' },
  );
}

async function* framesIn(stream: AsyncIterable<Buffer>): AsyncGenerator<Frame> {
  let held: Buffer[] = [];
  let bytes = 0;
  let wanted = 4;
  for await (const piece of stream) {
    held.push(piece);
    bytes += piece.length;
    if (bytes < wanted) continue;
    const whole = Buffer.concat(held);
    let at = 0;
    for (;;) {
      const length = at + 4 <= whole.length ? whole.readUInt32BE(at) : undefined;
      wanted = length === undefined ? 4 : 4 + length;
      if (length === undefined || at + wanted > whole.length) break;
      yield deserialize(whole.subarray(at + 4, at + wanted)) as Frame;
      at += wanted;
    }
    held = [whole.subarray(at)];
    bytes = whole.length - at;
  }
}
