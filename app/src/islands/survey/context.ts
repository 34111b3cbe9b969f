import { createContext, useContext } from 'react';
import type { Design } from '@rook-scale/core/design';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';

/** What every view of the survey knows. */
export interface Survey {
  studyId: string;
  cohort: CohortInfo;
  design: Design | undefined;
  /** Whether the design has split the patients. */
  split: boolean;
  /** The counted look that lets held-out patients in. */
  look: string | undefined;
  /** Changes when columns of the patients at hand could hold something else. */
  version: string;
}

export const SurveyContext = createContext<Survey | undefined>(undefined);

export function useSurvey(): Survey {
  const survey = useContext(SurveyContext);
  if (!survey) throw new Error('A view of the survey stands inside its page.');
  return survey;
}

/** The dictionary entry of a column. */
export function useEntry(): (name: string) => DictionaryEntry {
  const { cohort } = useSurvey();
  return (name) => entryOf(cohort, name)!;
}

export function entryOf(cohort: CohortInfo, name: string): DictionaryEntry | undefined {
  return cohort.dictionary.find((entry) => entry.name === name);
}

/** "Creatinine, µmol/L". */
export function withUnit(entry: DictionaryEntry): string {
  return entry.unit ? `${display(entry)}, ${entry.unit}` : display(entry);
}
