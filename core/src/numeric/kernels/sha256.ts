import { sha256 } from '@noble/hashes/sha2.js';
import { utf8ToBytes } from '@noble/hashes/utils.js';
import { compileWasm } from './compile.ts';
import { wasm } from './sha256.wasm.ts';

/** First two words of a digest: 64 bits, big end first. */
export type FirstWords = [high: number, low: number];

/**
 * The first words of SHA-256 (FIPS 180-4) of prefix + key, for many keys: compiled where the machine
 * allows it, four times as fast as the plain way that stands in elsewhere.
 */
export function firstWordsOf(prefix: string): (key: string) => FirstWords {
  return compiledFirstWords(prefix) ?? plainFirstWords(prefix);
}

export function plainFirstWords(prefix: string): (key: string) => FirstWords {
  return (key) => {
    const words = new DataView(sha256(utf8ToBytes(prefix + key)).buffer);
    return [words.getUint32(0), words.getUint32(4)];
  };
}

/** Bytes of the longest message that is hashed by the kernel. */
const room = 60_000;

/** Undefined where the machine cannot run the kernel. */
export function compiledFirstWords(prefix: string): ((key: string) => FirstWords) | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const memory = new WebAssembly.Memory({ initial: 2 });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const digest = exports.digest as (
    message: number,
    length: number,
    constants: number,
    schedule: number,
    state: number,
  ) => void;
  const [constantsAt, scheduleAt, stateAt, messageAt] = [1024, 1536, 2048, 4096];
  new Uint32Array(memory.buffer, constantsAt, 72).set([...roundConstants(), ...startOfState()]);
  const state = new Uint32Array(memory.buffer, stateAt, 2);
  const encoder = new TextEncoder();
  const message = new Uint8Array(memory.buffer, messageAt, room);
  const start = encoder.encodeInto(prefix, message).written;
  const behind = message.subarray(start);
  const plain = plainFirstWords(prefix);
  return (key) => {
    // Each unit of UTF-16 takes at most three bytes of UTF-8.
    if (3 * key.length > behind.length) return plain(key);
    const { written } = encoder.encodeInto(key, behind);
    digest(messageAt, start + written, constantsAt, scheduleAt, stateAt);
    return [state[0], state[1]];
  };
}

/** First 32 bits of the fractions of the cube roots of the first 64 primes (FIPS 180-4, 4.2.2). */
function roundConstants(): number[] {
  return primes(64).map((prime) => fraction(Math.cbrt(prime)));
}

/** The same of the square roots of the first eight (5.3.3). */
function startOfState(): number[] {
  return primes(8).map((prime) => fraction(Math.sqrt(prime)));
}

const fraction = (root: number) => Math.floor((root - Math.floor(root)) * 2 ** 32);

function primes(count: number): number[] {
  const found: number[] = [];
  for (let n = 2; found.length < count; n++)
    if (found.every((prime) => n % prime !== 0)) found.push(n);
  return found;
}
