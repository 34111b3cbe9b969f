import type { LossCurve } from '@rook-scale/core/families';

/** Places along a curve that are told at most: more than these cannot be told apart as it is drawn. */
const mostPlaces = 150;

/** A curve as it is told while it grows: thinned out, but for its last place and the best one. */
export function thinned(curve: LossCurve): LossCurve {
  const { at, lines, chosen } = curve;
  const every = Math.ceil(at.length / mostPlaces);
  const isKept = (place: number) =>
    place % every === 0 || place === at.length - 1 || at[place] === chosen;
  return {
    ...curve,
    at: at.filter((_, place) => isKept(place)),
    lines: lines.map(({ whose, values }) => ({
      whose,
      values: values
        .filter((_, place) => isKept(place))
        .map((value) => Number(value.toPrecision(5))),
    })),
  };
}
