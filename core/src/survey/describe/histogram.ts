import { sortedQuantile } from '../../numeric/index.ts';

/**
 * Counts in bins of equal width: bin i holds start + i·width up to, but not with, the next; the
 * last one holds its end too, unless bins are as narrow as the step that the values come in.
 */
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
  const { width, finest } = chooseWidth(sorted, bins);
  // Counted in whole widths: 0.1 added up many times would drift off the round numbers.
  const first = Math.floor(least / width + 1e-9);
  const last = Math.max(
    first,
    finest ? Math.floor(greatest / width + 1e-9) : Math.ceil(greatest / width - 1e-9) - 1,
  );
  const counts = new Array<number>(last - first + 1).fill(0);
  let bin = 0;
  for (let i = 0; i < sorted.length; i++) {
    // Measured values repeat themselves: their bin is found once.
    if (i === 0 || sorted[i] !== sorted[i - 1]) {
      const wanted = Math.floor(sorted[i] / width + 1e-9) - first;
      bin = Math.min(Math.max(wanted, 0), counts.length - 1);
    }
    counts[bin]++;
  }
  return { start: first * width, width, counts };
}

function chooseWidth(sorted: Float64Array, bins?: number): { width: number; finest: boolean } {
  const range = sorted[sorted.length - 1] - sorted[0];
  const wanted = bins ?? freedmanDiaconis(sorted, range);
  const grain = grainOf(sorted);
  const width = roundWidth(range / wanted, grain);
  if (grain === undefined) return { width, finest: false };
  return { width: Math.max(width, grain), finest: width < 1.5 * grain };
}

/**
 * The decimal step that all values are multiples of, 1 to 0.0001. Bins that are no multiple of it
 * hold now more, now fewer of the possible values, and the histogram looks like a comb.
 */
function grainOf(sorted: Float64Array): number | undefined {
  return [1, 0.1, 0.01, 0.001, 0.0001].find((grain) => {
    for (let i = 0; i < sorted.length; i++)
      if ((i === 0 || sorted[i] !== sorted[i - 1]) && !isMultiple(sorted[i], grain)) return false;
    return true;
  });
}

function isMultiple(value: number, step: number): boolean {
  const times = value / step;
  return Math.abs(times - Math.round(times)) <= 1e-9 * Math.max(1, Math.abs(times));
}

function freedmanDiaconis(sorted: Float64Array, range: number): number {
  const spread = sortedQuantile(sorted, 0.75) - sortedQuantile(sorted, 0.25);
  const width = (2 * spread) / Math.cbrt(sorted.length);
  const bins = width > 0 ? range / width : Math.log2(sorted.length) + 1;
  return Math.min(40, Math.max(5, bins));
}

/** 1, 2, 2.5 or 5 times a power of ten, the nearest on a scale of ratios that is a multiple of `grain`. */
function roundWidth(width: number, grain: number | undefined): number {
  const power = 10 ** Math.floor(Math.log10(width));
  const widths = [1, 2, 2.5, 5, 10].map((step) => step * power);
  const fitting =
    grain === undefined ? widths : widths.filter((one) => one < grain || isMultiple(one, grain));
  const distance = (one: number) => Math.abs(Math.log(one / width));
  return fitting.reduce((best, one) => (distance(one) < distance(best) ? one : best));
}
