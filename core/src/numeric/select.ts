/**
 * Puts the value of rank k (from 0) at place k, none greater before it and none less after it: Hoare
 * (1961), Communications of the ACM 4:321-322, with the middle one of three as the pivot. The array is
 * reordered in place and must hold no NaN.
 *
 * @example placeRank(Float64Array.of(5, 1, 4), 1) // 4
 */
export function placeRank(values: Float64Array, k: number): number {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const pivot = middle(values[low], values[(low + high) >> 1], values[high]);
    let left = low;
    let right = high;
    while (left <= right) {
      while (values[left] < pivot) left++;
      while (values[right] > pivot) right--;
      if (left > right) break;
      const value = values[left];
      values[left++] = values[right];
      values[right--] = value;
    }
    if (k <= right) high = right;
    else if (k >= left) low = left;
    else break;
  }
  return values[k];
}

function middle(a: number, b: number, c: number): number {
  if (a < b) return b < c ? b : a < c ? c : a;
  return a < c ? a : b < c ? c : b;
}
