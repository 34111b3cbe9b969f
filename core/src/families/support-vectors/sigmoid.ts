/** Risk at a decision value: 1 / (1 + e^(slope × value + constant)). */
export interface Sigmoid {
  slope: number;
  constant: number;
}

/**
 * The sigmoid that tells risks from decision values best, drawn to no certainty (Platt 1999, as mended by
 * Lin, Lin & Weng 2007, Machine Learning 68:267-276).
 *
 * @param cases 1 for those with the event
 * @param weights of patients; all 1 where absent
 */
export function fitSigmoid(
  decisions: ArrayLike<number>,
  cases: ArrayLike<number>,
  weights?: ArrayLike<number>,
): Sigmoid {
  const count = decisions.length;
  const weightOf = (i: number) => (weights ? weights[i] : 1);
  let [having, without] = [0, 0];
  for (let i = 0; i < count; i++)
    if (cases[i] === 1) having += weightOf(i);
    else without += weightOf(i);
  const [high, low] = [(having + 1) / (having + 2), 1 / (without + 2)];
  let [slope, constant] = [0, Math.log((without + 1) / (having + 1))];
  let loss = lossAt(slope, constant);
  for (let step = 0; step < 200; step++) {
    let [g1, g2, h11, h12, h22] = [0, 0, 1e-12, 0, 1e-12];
    for (let i = 0; i < count; i++) {
      const value = decisions[i];
      const risk = riskBy({ slope, constant }, value);
      const away = weightOf(i) * ((cases[i] === 1 ? high : low) - risk);
      const spread = weightOf(i) * risk * (1 - risk);
      g1 += value * away;
      g2 += away;
      h11 += value * value * spread;
      h12 += value * spread;
      h22 += spread;
    }
    if (Math.max(Math.abs(g1), Math.abs(g2)) < 1e-10 * (having + without)) break;
    const determinant = h11 * h22 - h12 * h12;
    const moves = [-(h22 * g1 - h12 * g2) / determinant, -(h11 * g2 - h12 * g1) / determinant];
    const falls = g1 * moves[0] + g2 * moves[1];
    let share = 1;
    for (; share > 1e-12; share /= 2) {
      const next = lossAt(slope + share * moves[0], constant + share * moves[1]);
      if (next < loss + 1e-4 * share * falls) {
        slope += share * moves[0];
        constant += share * moves[1];
        loss = next;
        break;
      }
    }
    if (share <= 1e-12) break;
  }
  return { slope, constant };

  function lossAt(slope: number, constant: number): number {
    let sum = 0;
    for (let i = 0; i < count; i++) {
      const score = slope * decisions[i] + constant;
      const wanted = cases[i] === 1 ? high : low;
      sum +=
        weightOf(i) *
        (score >= 0
          ? wanted * score + Math.log1p(Math.exp(-score))
          : (wanted - 1) * score + Math.log1p(Math.exp(score)));
    }
    return sum;
  }
}

/** Without overflow. */
export function riskBy({ slope, constant }: Sigmoid, decision: number): number {
  const score = slope * decision + constant;
  if (score < 0) return 1 / (1 + Math.exp(score));
  const e = Math.exp(-score);
  return e / (1 + e);
}
