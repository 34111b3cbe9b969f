import { z95 } from '../numeric/index.ts';
import { smallest } from './criterion.ts';

/** Sensitivity that a held-out check is planned for; common practice. */
export const usualSensitivity = 0.8;

/** Full width of the 95% interval (Wilson 1927) of a share in so many; they need not be whole cases. */
export function widthOfShare(share: number, patients: number, z = z95): number {
  const square = z ** 2;
  return (2 * z * Math.sqrt(patients * share * (1 - share) + square / 4)) / (patients + square);
}

/** How many it takes for an interval of that full width, at the share that is expected. */
export const patientsForWidth = (share: number, width: number, z = z95): number =>
  smallest(1, (n) => widthOfShare(share, n, z) <= width);
