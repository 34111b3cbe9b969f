import { sortedQuantile } from '../../numeric/index.ts';

/** Counts in bins of equal width: bin i holds start + i·width up to, but not with, the next. */
export interface Histogram {
  start: number;
  width: number;
  counts: number[];
}

/**
 * A histogram whose bins begin at round numbers. Without a wish the width follows Freedman &
 * Diaconis (1981), Zeitschrift für Wahrscheinlichkeitstheorie 57:453-476, within 5 to 40 bins.
 *
 * @param sorted ascending, without NaN, not empty
 * @param bins about how many are wanted
 */
export function histogramOf(sorted: Float64Array, bins?: number): Histogram {
  const least = sorted[0];
  const greatest = sorted[sorted.length - 1];
  if (least === greatest) return { start: least - 0.5, width: 1, counts: [sorted.length] };
  const width = chooseWidth(sorted, bins);
  // Counted in whole widths: 0.1 added up many times would drift off the round numbers.
  const first = Math.floor(least / width + 1e-9);
  const last = Math.floor(greatest / width + 1e-9);
  const counts = new Array<number>(last - first + 1).fill(0);
  for (const value of sorted) {
    const bin = Math.floor(value / width + 1e-9) - first;
    counts[Math.min(Math.max(bin, 0), counts.length - 1)]++;
  }
  return { start: first * width, width, counts };
}

function chooseWidth(sorted: Float64Array, bins?: number): number {
  const range = sorted[sorted.length - 1] - sorted[0];
  const wanted = bins ?? freedmanDiaconis(sorted, range);
  const width = roundWidth(range / wanted);
  // Whole numbers in bins narrower than one would show a comb.
  return width < 1 && sorted.every(Number.isInteger) ? 1 : width;
}

function freedmanDiaconis(sorted: Float64Array, range: number): number {
  const spread = sortedQuantile(sorted, 0.75) - sortedQuantile(sorted, 0.25);
  const width = (2 * spread) / Math.cbrt(sorted.length);
  const bins = width > 0 ? range / width : Math.log2(sorted.length) + 1;
  return Math.min(40, Math.max(5, bins));
}

/** 1, 2, 2.5 or 5 times a power of ten, the nearest on a scale of ratios. */
function roundWidth(width: number): number {
  const power = 10 ** Math.floor(Math.log10(width));
  const steps = [1, 2, 2.5, 5, 10];
  const distance = (step: number) => Math.abs(Math.log((step * power) / width));
  return power * steps.reduce((best, step) => (distance(step) < distance(best) ? step : best));
}
