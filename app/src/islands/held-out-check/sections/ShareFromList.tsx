import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, messageOf, unpackBytes, unpackNumbers } from '../../../browser/api.ts';
import { plural } from '../../../browser/format.ts';
import { roundDigits } from '../../../browser/numbers.ts';
import { cohortRoutes } from '../../../contract/cohorts.ts';
import { screeningRoutes, type ScreeningView } from '../../../contract/screenings.ts';
import { Notice, Select } from '../../../components/index.ts';
import type { SectionProps } from './section.ts';

/** A share of cases, and where it comes from. */
export interface TakenShare {
  percent: number;
  says: string;
}

/** Takes the share of cases from a list that was scored with the candidate: what is known there, else what it expects. */
export function ShareFromList({
  studyId,
  line,
  patients,
  onTaken,
}: Pick<SectionProps, 'studyId' | 'line' | 'patients'> & { onTaken: (share: TakenShare) => void }) {
  const [problem, setProblem] = useState<string>();
  const { data: lists } = useQuery({
    queryKey: ['scored lists', studyId, line.id],
    queryFn: async () => {
      const [scored, cohorts] = await Promise.all([
        ask(screeningRoutes.list, { study: studyId }),
        ask(cohortRoutes.lists, { study: studyId }),
      ]);
      return scored
        .filter(({ candidateId }) => candidateId === line.id)
        .map(({ id, cohortId }) => ({
          value: id,
          label: cohorts.find((cohort) => cohort.id === cohortId)?.name ?? 'a list',
        }));
    },
  });
  const take = async (screening: string) => {
    setProblem(undefined);
    try {
      onTaken(shareIn(await ask(screeningRoutes.view, { screening })));
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  // The mean of predicted numbers is no share.
  if (!lists || lists.length === 0 || patients.scale.what !== 'risk') return null;
  return (
    <>
      <Select
        label="or as in"
        value=""
        options={[{ value: '', label: 'a scored list' }, ...lists]}
        onChange={(id) => void (id && take(id))}
      />
      {problem && <Notice>{problem}</Notice>}
    </>
  );
}

function shareIn({ cohort, known, risks, candidateName }: ScreeningView): TakenShare {
  const told = unpackNumbers(risks).filter((risk) => !Number.isNaN(risk));
  const happened = known ? Array.from(unpackBytes(known.predictions.events)) : [];
  const isKnown = happened.length > 0;
  const all = isKnown ? happened : Array.from(told);
  const share = all.reduce((sum, one) => sum + one, 0) / all.length;
  const percent = roundDigits(100 * Math.min(0.999, Math.max(0.0001, share)), 3);
  return {
    percent,
    says: isKnown
      ? `In ${cohort.name} ${percent}% of ${plural(all.length, 'patient')} whose outcome is known are cases.`
      : `In ${cohort.name} no outcome is known: ${percent}% is the mean risk that ${candidateName} gives its ${plural(all.length, 'patient')}.`,
  };
}
