const golden = (Math.sqrt(5) - 1) / 2;

/**
 * Where a function with one peak in [low, high] is greatest, by golden sections (Kiefer 1953,
 * Proceedings of the American Mathematical Society 4:502-506), to `tolerance` in its argument.
 */
export function maximiseOne(
  f: (x: number) => number,
  low: number,
  high: number,
  tolerance = 1e-8,
): number {
  let left = high - golden * (high - low);
  let right = low + golden * (high - low);
  let atLeft = f(left);
  let atRight = f(right);
  while (high - low > tolerance) {
    if (atLeft >= atRight) {
      high = right;
      right = left;
      atRight = atLeft;
      left = high - golden * (high - low);
      atLeft = f(left);
    } else {
      low = left;
      left = right;
      atLeft = atRight;
      right = low + golden * (high - low);
      atRight = f(right);
    }
  }
  return (low + high) / 2;
}
