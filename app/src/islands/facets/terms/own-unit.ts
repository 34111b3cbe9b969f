import type { CandidateDetail } from '../../../contract/candidates.ts';

/** From the scale of an input to that of its column, where it was only centred and scaled. */
export function inOwnUnit(name: string, { inputs }: CandidateDetail): (value: number) => number {
  const input = inputs.find((one) => one.name === name);
  const { mean, sd, scale, kind } = input ?? {};
  if (kind !== 'number' || mean === undefined || sd === undefined || scale) return (value) => value;
  return (value) => mean + sd * value;
}
