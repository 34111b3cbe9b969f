import { compileWasm } from './compile.ts';
import { wasm } from './exponentials.wasm.ts';

/** Puts e to the power of each number, kept between -708 and 709, in its place. */
export type Exponentials = (numbers: Float64Array) => void;

/** Compiled where the machine has WebAssembly with SIMD, else plain; the same bits. */
export const exponentials: Exponentials = (numbers) => {
  compiled ??= compiledExponentials() ?? plainExponentials;
  compiled(numbers);
};

let compiled: Exponentials | undefined;

/** Numbers that are copied to the kernel at a time. */
const blockSize = 4096;

/** Undefined where the machine cannot run it. */
export function compiledExponentials(): Exponentials | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const memory = new WebAssembly.Memory({ initial: 1 });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const run = exports.exponentials as (numbers: number, count: number, series: number) => void;
  const [seriesAt, blockAt] = [1024, 2048];
  new Float64Array(memory.buffer, seriesAt, series.length).set(series);
  const block = new Float64Array(memory.buffer, blockAt, blockSize);
  return (numbers) => {
    for (let from = 0; from < numbers.length; from += blockSize) {
      const some = numbers.subarray(from, from + blockSize);
      block.set(some);
      run(blockAt, some.length, seriesAt);
      some.set(block.subarray(0, some.length));
    }
  };
}

export const plainExponentials: Exponentials = (numbers) => {
  for (let i = 0; i < numbers.length; i++) {
    const x = Math.max(Math.min(numbers[i], 709), -708);
    const whole = x * Math.LOG2E + shift - shift;
    const rest = x - whole * 0.6931471803691238 - whole * 1.9082149292705877e-10;
    const square = rest * rest;
    const fourth = square * square;
    const [a, b, d, e] = [add(0, rest), add(2, rest), add(4, rest), add(6, rest)];
    const low = a + b * square + (d + e * square) * fourth;
    const high = add(8, rest) + add(10, rest) * square + add(12, rest) * fourth;
    const sum = low + high * (fourth * fourth);
    exponent[1] = (whole + 1023) << 20;
    numbers[i] = sum * power[0];
  }
};

/** Adding and taking it away gives the nearest whole number. */
const shift = 1.5 * 2 ** 52;

/** One over 0!, 1! and so on up to 13!. */
export const series = Float64Array.from({ length: 14 }, (_, i) => {
  let factorial = 1;
  for (let k = 2; k <= i; k++) factorial *= k;
  return 1 / factorial;
});

const add = (at: number, rest: number) => series[at] + series[at + 1] * rest;

const power = new Float64Array(1);
const exponent = new Int32Array(power.buffer);
