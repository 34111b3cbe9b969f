import { isAscii } from 'node:buffer';
import type { encodings, Remark } from '../../contract/uploads.ts';

/** Encodings a file can be read in. */
export type Encoding = (typeof encodings)[number];

export interface Decoded {
  text: AsyncGenerator<string>;
  /** Known once the text has been read. */
  result: () => { encoding: Encoding; unreadable: number };
}

/**
 * The text of a file, piece by piece. Without `wanted`, the encoding follows from the mark at the
 * start; without a mark, UTF-16 shows in its zero bytes, and the first byte beyond ASCII tells UTF-8
 * from Latin-1 (read as Windows-1252, which contains it): text in one is practically never valid in
 * the other.
 */
export function decodeText(content: AsyncIterable<Uint8Array>, wanted?: Encoding): Decoded {
  let encoding = wanted;
  let unreadable = 0;
  async function* text(): AsyncGenerator<string> {
    let decoder: TextDecoder | undefined = encoding && new TextDecoder(encoding);
    let held: Uint8Array = new Uint8Array(0);
    let first = true;
    const read = (bytes: Uint8Array, more: boolean) => {
      const piece = (decoder ??= new TextDecoder(encoding)).decode(bytes, { stream: more });
      for (const mark of piece.matchAll(/\uFFFD/g)) unreadable += mark[0].length;
      return piece;
    };
    for await (const piece of content) {
      if (decoder || encoding) {
        yield read(piece, true);
        continue;
      }
      held = held.length > 0 ? Buffer.concat([held, piece]) : piece;
      // Too little to judge a mark or zero bytes by.
      if (first && held.length < 64) continue;
      encoding ??= first ? fromStart(held) : undefined;
      first = false;
      encoding ??= fromBeyondAscii(held);
      if (encoding) yield read(held, true);
      else {
        const { sure, rest } = plainPart(held);
        yield Buffer.from(sure).toString('latin1');
        held = rest;
        continue;
      }
      held = new Uint8Array(0);
    }
    if (held.length > 0) {
      encoding ??= first ? fromStart(held) : undefined;
      encoding ??= fromBeyondAscii(held) ?? (isAscii(held) ? 'utf-8' : 'windows-1252');
      yield read(held, true);
    }
    encoding ??= 'utf-8';
    if (decoder) yield read(new Uint8Array(0), false);
  }
  return { text: text(), result: () => ({ encoding: encoding ?? 'utf-8', unreadable }) };
}

/** The encoding that a mark at the start, or zero bytes there, show; undefined where there is neither. */
export function fromStart(bytes: Uint8Array): Encoding | undefined {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const start = bytes.subarray(0, Math.min(bytes.length, 1024) & ~1);
  let even = 0;
  let odd = 0;
  for (let i = 0; i < start.length; i += 2) {
    if (start[i] === 0) even++;
    if (start[i + 1] === 0) odd++;
  }
  const pairs = start.length / 2;
  if (pairs > 4 && odd > 0.7 * pairs && even === 0) return 'utf-16le';
  if (pairs > 4 && even > 0.7 * pairs && odd === 0) return 'utf-16be';
  return undefined;
}

/** Decides at the first byte beyond ASCII; undefined while there is none, or not enough after it. */
function fromBeyondAscii(bytes: Uint8Array): Encoding | undefined {
  if (isAscii(bytes)) return undefined;
  const at = bytes.findIndex((byte) => byte >= 0x80);
  const length = sequenceLength(bytes[at]);
  if (length === 0) return 'windows-1252';
  const rest = bytes.subarray(at + 1, at + length);
  if (!rest.every((byte) => byte >= 0x80 && byte <= 0xbf)) return 'windows-1252';
  return rest.length === length - 1 ? 'utf-8' : undefined;
}

/** Bytes of the UTF-8 sequence that this byte begins; 0 when it begins none. */
function sequenceLength(byte: number): number {
  if (byte >= 0xc2 && byte <= 0xdf) return 2;
  if (byte >= 0xe0 && byte <= 0xef) return 3;
  return byte >= 0xf0 && byte <= 0xf4 ? 4 : 0;
}

/** What is certainly ASCII, and the undecided rest. */
function plainPart(bytes: Uint8Array) {
  if (isAscii(bytes)) return { sure: bytes, rest: new Uint8Array(0) };
  const at = bytes.findIndex((byte) => byte >= 0x80);
  return { sure: bytes.subarray(0, at), rest: bytes.subarray(at) };
}

export function describeUnreadable(count: number): Remark[] {
  if (count === 0) return [];
  const sentence = `${count} ${count === 1 ? 'character' : 'characters'} could not be read in this encoding. Another one may fit better.`;
  return [{ code: 'unreadable characters', title: 'Unreadable characters', sentence }];
}
