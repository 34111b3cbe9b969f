import type { NetworkShown } from '@rook-scale/core/families';

/** A weight between two units, by their places in their layers. */
export interface Link {
  layer: number;
  from: number;
  to: number;
  weight: number;
}

/** Inputs that are drawn, at most: those that weigh most. */
export const mostDrawn = 24;
/** Units of a layer that are drawn, at most. */
export const mostUnits = 40;

/** The weights of one unit: its constant, then one for each unit before. */
export function weightsOf(
  { sizes, parameters }: NetworkShown,
  layer: number,
  unit: number,
): { constant: number; weights: number[] } {
  let at = 0;
  for (let l = 1; l < layer; l++) at += sizes[l] * (sizes[l - 1] + 1);
  at += unit * (sizes[layer - 1] + 1);
  return { constant: parameters[at], weights: parameters.slice(at + 1, at + 1 + sizes[layer - 1]) };
}

/** How much each input weighs in the first layer: the root of its squares. */
export function strengths(shown: NetworkShown): number[] {
  const sums = shown.inputs.map(() => 0);
  for (let unit = 0; unit < shown.sizes[1]; unit++)
    weightsOf(shown, 1, unit).weights.forEach((weight, j) => (sums[j] += weight ** 2));
  return sums.map(Math.sqrt);
}

/** Places of units that are drawn, layer by layer; inputs by how much they weigh. */
export function drawnUnits(shown: NetworkShown): number[][] {
  const strong = strengths(shown);
  return shown.sizes.map((size, layer) => {
    const all = Array.from({ length: size }, (_, unit) => unit);
    if (layer > 0) return all.slice(0, mostUnits);
    return all.sort((a, b) => strong[b] - strong[a]).slice(0, mostDrawn);
  });
}

/** Weights between units that are drawn. */
export function linksOf(shown: NetworkShown, drawn: number[][]): Link[] {
  return drawn.slice(1).flatMap((units, before) =>
    units.flatMap((to) => {
      const { weights } = weightsOf(shown, before + 1, to);
      return drawn[before].map((from) => ({ layer: before + 1, from, to, weight: weights[from] }));
    }),
  );
}
