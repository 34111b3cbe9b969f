// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// e to the power of many numbers, two at a time: the number is taken apart into a multiple of ln 2 and a
// rest of at most ln 2 / 2, whose power is its Taylor series to degree 13. Wrong by 2 units in the last
// place at most. `c` holds 1/0!, 1/1! and so on up to 1/13!.

export function exponentials(numbers: usize, count: i32, c: usize): void {
  const end = numbers + ((<usize>count) << 3);
  for (; numbers < end; numbers += 16) v128.store(numbers, exponential(v128.load(numbers), c));
}

@inline
export function exponential(number: v128, c: usize): v128 {
  const shift = f64x2.splat(6755399441055744.0);
  const x = f64x2.pmax(f64x2.pmin(number, f64x2.splat(709.0)), f64x2.splat(-708.0));
  // The nearest whole number stands in the last bits.
  const shifted = f64x2.add(f64x2.mul(x, f64x2.splat(1.4426950408889634)), shift);
  const whole = f64x2.sub(shifted, shift);
  const near = f64x2.sub(x, f64x2.mul(whole, f64x2.splat(0.6931471803691238)));
  const rest = f64x2.sub(near, f64x2.mul(whole, f64x2.splat(1.9082149292705877e-10)));
  // By Estrin's scheme: what stands in a row does not wait for what stands before it.
  const square = f64x2.mul(rest, rest);
  const fourth = f64x2.mul(square, square);
  const a = add(c, rest, 0);
  const b = add(c, rest, 16);
  const d = add(c, rest, 32);
  const e = add(c, rest, 48);
  const f = add(c, rest, 64);
  const g = add(c, rest, 80);
  const h = add(c, rest, 96);
  const low = f64x2.add(
    f64x2.add(a, f64x2.mul(b, square)),
    f64x2.mul(f64x2.add(d, f64x2.mul(e, square)), fourth),
  );
  const high = f64x2.add(f64x2.add(f, f64x2.mul(g, square)), f64x2.mul(h, fourth));
  const sum = f64x2.add(low, f64x2.mul(high, f64x2.mul(fourth, fourth)));
  const power = i64x2.shl(i64x2.add(shifted, i64x2.splat(1023)), 52);
  return f64x2.mul(sum, power);
}

@inline
function add(c: usize, rest: v128, at: usize): v128 {
  return f64x2.add(
    v128.load_splat<f64>(c + at),
    f64x2.mul(v128.load_splat<f64>(c + at + 8), rest),
  );
}
