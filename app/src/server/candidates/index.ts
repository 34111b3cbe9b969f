export {
  addCandidate,
  addSeveral,
  cancelFit,
  ensureReference,
  refitCandidates,
  setCutoffRule,
} from './change.ts';
export { casesInForce, costsOf, withCases } from './cases.ts';
export { compareCandidates } from './compare.ts';
export { candidateDetail } from './detail.ts';
export { candidateCutoff, keepResults, resultsKey } from './judge.ts';
export { listCandidates } from './lines.ts';
export { outOfFoldPredictions, pack } from './packed.ts';
export { nameCandidate } from './words.ts';
export { tableWithRule } from './rule.ts';
export {
  candidateName,
  candidateRow,
  fittedCandidate,
  keptPredictions,
  notFitted,
  type CandidateRow,
} from './store.ts';
export { ownCosts } from './own-costs.ts';
