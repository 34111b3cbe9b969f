import { listCandidates } from './candidates/index.ts';
import { developmentCohort, screeningCohorts } from './cohorts/index.ts';
import { listSearches } from './searches/index.ts';
import { remembered } from './remembered.ts';
import { listScreenings } from './screenings/index.ts';

// What pages are first drawn with. From there on the browser asks for itself.

export const candidatesOf = (studyId: string) =>
  remembered(`candidates ${studyId}`, () => listCandidates(studyId));

export const searchesOf = (studyId: string) =>
  remembered(`searches ${studyId}`, () => listSearches(studyId));

/** null while there is none. */
export const developmentOf = (studyId: string) =>
  remembered(`development ${studyId}`, async () => (await developmentCohort(studyId)) ?? null);

export const listsOf = (studyId: string) =>
  remembered(`lists ${studyId}`, () => screeningCohorts(studyId));

export const screeningsOf = (studyId: string) =>
  remembered(`screenings ${studyId}`, () => listScreenings(studyId));
