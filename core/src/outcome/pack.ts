import type { Outcome, OutcomeKind, Predictions } from './kinds.ts';
import { numbersOf } from './rows.ts';

/** What must be known besides the numbers to read packed outcomes or predictions. */
export type OutcomeHeader = { kind: OutcomeKind; levels?: string[]; ordered?: boolean };

/** Outcomes or predictions as bytes, in the machine's order of bytes, with what must be known beside them. */
export interface Packed {
  header: OutcomeHeader;
  bytes: Uint8Array;
}

export function packPredictions(predictions: Predictions): Packed {
  const { buffer, byteOffset, byteLength } = numbersOf(predictions);
  const bytes = new Uint8Array(buffer, byteOffset, byteLength);
  const { kind } = predictions;
  return { header: kind === 'levels' ? { kind, levels: predictions.levels } : { kind }, bytes };
}

export function unpackPredictions({ header, bytes }: Packed): Predictions {
  const numbers = new Float64Array(aligned(bytes, 8));
  return unpackers[header.kind](numbers, header);
}

export function packOutcome(outcome: Outcome): Packed {
  const { kind, values } = outcome;
  const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
  if (outcome.kind !== 'levels') return { header: { kind }, bytes };
  return { header: { kind, levels: outcome.levels, ordered: outcome.ordered }, bytes };
}

export function unpackOutcome({ header, bytes }: Packed): Outcome {
  return outcomes[header.kind](bytes, header);
}

const unpackers: {
  [K in OutcomeKind]: (numbers: Float64Array, header: OutcomeHeader) => Predictions<K>;
} = {
  event: (risks) => ({ kind: 'event', risks }),
  levels: (shares, { levels = [] }) => ({ kind: 'levels', levels, shares }),
  number: (values) => ({ kind: 'number', values }),
};

const outcomes: { [K in OutcomeKind]: (bytes: Uint8Array, header: OutcomeHeader) => Outcome<K> } = {
  event: (bytes) => ({ kind: 'event', values: new Int8Array(aligned(bytes, 1)) }),
  levels: (bytes, { levels = [], ordered = false }) => ({
    kind: 'levels',
    values: new Int32Array(aligned(bytes, 4)),
    levels,
    ordered,
  }),
  number: (bytes) => ({ kind: 'number', values: new Float64Array(aligned(bytes, 8)) }),
};

/** Bytes from a database begin anywhere; typed arrays must begin at a multiple of their width. */
function aligned(bytes: Uint8Array, width: number): ArrayBuffer {
  if (bytes.byteLength % width !== 0) throw new Error('The packed numbers are cut short.');
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
}
