/** One reason why so many patients are needed. */
export interface Criterion {
  id: 'shrinkage' | 'optimism' | 'overall risk' | 'error of risks' | 'residual SD' | 'overall mean';
  /** Patients needed, rounded up. */
  patients: number;
  /** Before rounding, where there is a formula for it. */
  exact?: number;
}

/** The criterion that asks for most patients. */
export const hardest = (criteria: Criterion[]): Criterion =>
  criteria.reduce((most, one) => (one.patients > most.patients ? one : most));

/** As far as a model may fall short. */
export interface Accepted {
  /** How much slopes may have to be shrunk: uniform shrinkage factor. */
  shrinkage: number;
  /** Difference between apparent and adjusted R² (of risks: Nagelkerke's). */
  optimism: number;
  /** Half-width of the 95% interval of the overall risk. */
  margin: number;
  /** Mean absolute error of risks. */
  riskError: number;
  /** Multiplicative error of residual SD and overall mean. */
  factor: number;
}

/** The numbers of the papers' examples. */
export const accepted: Accepted = {
  shrinkage: 0.9,
  optimism: 0.05,
  margin: 0.05,
  riskError: 0.05,
  factor: 1.1,
};

/** The smallest whole number from `least` on that meets it, where all above it do too. */
export function smallest(least: number, meets: (n: number) => boolean): number {
  if (meets(least)) return least;
  let below = least;
  let above = least + 1;
  while (!meets(above)) {
    below = above;
    above = 2 * above;
    if (above > 1e12) return Infinity;
  }
  while (above - below > 1) {
    const middle = Math.floor((below + above) / 2);
    if (meets(middle)) above = middle;
    else below = middle;
  }
  return above;
}
