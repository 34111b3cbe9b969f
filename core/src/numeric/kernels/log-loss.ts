import { compileWasm } from './compile.ts';
import { plainExponentials, series } from './exponentials.ts';
import { wasm } from './log-loss.wasm.ts';

/** Patients that are looked at together, whose numbers stay in near caches; even. */
export const lossRows = 2048;

/** Products of shares stand between this and 1: a share below it counts as it. */
const small = 1e-100;
/** Makes a product larger that has come below; how often is counted. */
const larger = 2 ** 400;

/** Room for the log loss of up to `lossRows` patients; the caller fills it. */
export interface LogLossBlock {
  /** Scores of one event; `slopes` leaves in their place the share that what happened was given. */
  scores: Float64Array;
  /** 1 for cases. */
  cases: Uint8Array;
  /** All 1 until somebody writes others. */
  weights: Float64Array;
  /** 1 for patients from whom nothing is learned. */
  watched: Uint8Array;
  /** Second and first derivative of each in turn, as multiples of `least`. */
  pairs: Float64Array;
  slopes(count: number, rounding: Rounding): void;
  /** Multiplies the shares that stand in `scores`, without weights, to those before. */
  multiply(count: number): void;
  /** Sums of the logarithms of what was multiplied since the last time. */
  logs(): [learned: number, watched: number];
}

/** Adding and taking away `big` rounds to whole multiples of `least`; no second derivative is below it. */
export interface Rounding {
  big: number;
  least: number;
}

/** Compiled where the machine has WebAssembly with SIMD, else plain; the same bits. */
export const logLossBlock = (): LogLossBlock => compiledLogLoss() ?? plainLogLoss();

interface Kernel {
  slopes: (
    scores: number,
    count: number,
    cases: number,
    weights: number,
    pairs: number,
    big: number,
    least: number,
    series: number,
  ) => void;
  multiply: (given: number, count: number, watched: number, state: number) => void;
}

/** Undefined where the machine cannot run it. */
export function compiledLogLoss(): LogLossBlock | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const memory = new WebAssembly.Memory({ initial: 2 });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { slopes, multiply } = exports as unknown as Kernel;
  const { buffer } = memory;
  const [seriesAt, stateAt, casesAt] = [1024, 1280, 2048];
  const watchedAt = casesAt + lossRows;
  const scoresAt = watchedAt + lossRows;
  const weightsAt = scoresAt + 8 * lossRows;
  const pairsAt = weightsAt + 8 * lossRows;
  new Float64Array(buffer, seriesAt, series.length).set(series);
  const scores = new Float64Array(buffer, scoresAt, lossRows);
  const state = new Float64Array(buffer, stateAt, 8).fill(1, 0, 4);
  return {
    scores,
    cases: new Uint8Array(buffer, casesAt, lossRows),
    weights: new Float64Array(buffer, weightsAt, lossRows).fill(1),
    watched: new Uint8Array(buffer, watchedAt, lossRows),
    pairs: new Float64Array(buffer, pairsAt, 2 * lossRows),
    slopes: (count, { big, least }) =>
      slopes(scoresAt, count + (count & 1), casesAt, weightsAt, pairsAt, big, least, seriesAt),
    multiply(count) {
      if (count % 2 === 1) scores[count] = 1;
      multiply(scoresAt, count + (count & 1), watchedAt, stateAt);
    },
    logs: () => takeLogs(state),
  };
}

export function plainLogLoss(): LogLossBlock {
  const block = {
    scores: new Float64Array(lossRows),
    cases: new Uint8Array(lossRows),
    weights: new Float64Array(lossRows).fill(1),
    watched: new Uint8Array(lossRows),
    pairs: new Float64Array(2 * lossRows),
  };
  const { scores, cases, weights, watched, pairs } = block;
  const state = new Float64Array(8).fill(1, 0, 4);
  return {
    ...block,
    slopes(count, { big, least }) {
      for (let i = 0; i < count; i++) scores[i] = -scores[i];
      plainExponentials(scores.subarray(0, count));
      for (let i = 0; i < count; i++) {
        const risk = 1 / (1 + scores[i]);
        pairs[2 * i] = Math.max(weights[i] * risk * (1 - risk) + big - big, least);
        pairs[2 * i + 1] = weights[i] * (risk - cases[i]) + big - big;
        scores[i] = Math.abs(risk - (1 - cases[i]));
      }
    },
    multiply(count) {
      for (let i = 0; i < count; i++) {
        const product = 2 * watched[i] + (i & 1);
        state[product] *= Math.max(scores[i], small);
        if (state[product] >= small) continue;
        state[product] *= larger;
        state[4 + product]++;
      }
    },
    logs: () => takeLogs(state),
  };
}

/** @param state four products and how often each was made larger; begun anew */
function takeLogs(state: Float64Array): [learned: number, watched: number] {
  const logs = Array.from(
    { length: 4 },
    (_, k) => Math.log(state[k]) - state[4 + k] * Math.log(larger),
  );
  state.fill(1, 0, 4).fill(0, 4);
  return [logs[0] + logs[1], logs[2] + logs[3]];
}
