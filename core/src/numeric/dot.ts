/**
 * Sum of products of two lists. Four sums run side by side: the processor need not wait for one
 * addition before it begins the next.
 */
export function dot(a: Float64Array, b: Float64Array): number {
  let first = 0;
  let second = 0;
  let third = 0;
  let fourth = 0;
  let i = 0;
  for (; i + 3 < a.length; i += 4) {
    first += a[i] * b[i];
    second += a[i + 1] * b[i + 1];
    third += a[i + 2] * b[i + 2];
    fourth += a[i + 3] * b[i + 3];
  }
  for (; i < a.length; i++) first += a[i] * b[i];
  return first + second + (third + fourth);
}
