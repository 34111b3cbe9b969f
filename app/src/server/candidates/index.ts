export { withModel } from './ask-thread.ts';
export { addBlend, addRecalibrated } from './composed.ts';
export {
  addCandidate,
  addSeveral,
  cancelFit,
  fitBeforeOthers,
  candidateNumber,
  checkBasis,
  ensureReference,
  insertCandidate,
  knownFamily,
  readyDesign,
  recordMade,
  refitCandidates,
  refuseComposed,
  refuseKind,
  setCutoffRule,
} from './change.ts';
export { clustersAmong, clustersIn, clustersOfPredictions } from './clusters.ts';
export { casesInForce, costsOf, withCases } from './cases.ts';
export { compareCandidates, refuseOthers } from './compare.ts';
export { candidateCurves } from './curves.ts';
export { differingPatients } from './differing.ts';
export { candidateDetail } from './detail.ts';
export { candidateCutoff, keepResults, resultsKey } from './judge.ts';
export { listCandidates } from './lines.ts';
export { outOfFoldPredictions, pack } from './packed.ts';
export { sameFit, type CarriedOut } from './same-fit.ts';
export { currentVersion, isSameVersion, keepVersion } from './versions.ts';
export { giveWords, nameCandidate, wordsOf } from './words.ts';
export { tableWithRule } from './rule.ts';
export {
  candidateName,
  candidateRow,
  fittedCandidate,
  keptFacets,
  keptPredictions,
  notFitted,
  type CandidateRow,
} from './store.ts';
export { ownCosts } from './own-costs.ts';
