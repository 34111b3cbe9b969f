export { findingCodes, type Finding, type FindingCode } from './finding.ts';
export { surveyTable, type OutcomeKnown } from './findings.ts';
export { runsTest } from './about-outcome.ts';
