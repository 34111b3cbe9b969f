export { collectOutOfFold, fitPart, planParts, type FitPart, type FitPartResult } from './parts.ts';
