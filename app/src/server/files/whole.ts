import { Problem } from '../ground/problem.ts';
import type { KeptFile } from './table-file.ts';

/** All bytes of a file that can only be understood as a whole; refuses one that is too large for that. */
export async function wholeFile(file: KeptFile, limitMb: number, advice: string): Promise<Buffer> {
  if (file.size > limitMb * 1024 * 1024)
    throw new Problem(
      413,
      'too-large-for-format',
      `A file of this kind can have at most ${limitMb} MB. ${advice} Nothing was stored.`,
    );
  const pieces: Uint8Array[] = [];
  for await (const piece of file.stream()) pieces.push(piece);
  return Buffer.concat(pieces);
}

/** What the other formats leave out of a reading that delimited text has. */
export const notDelimited = { delimiter: ',', encoding: 'utf-8' } as const;
