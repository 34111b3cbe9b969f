import { useQuery } from '@tanstack/react-query';
import { ask } from '../../browser/api.ts';
import { cohortRoutes } from '../../contract/cohorts.ts';
import { Notice } from '../../components/index.ts';
import { useLeakNotes } from './leaks.ts';

/**
 * Says before a fit which predictors may be recorded after the outcome, or that they are being checked. Its line stays
 * when nothing is found, so that nothing below it moves under the pointer.
 */
export function LeakNotice({ studyId, predictors }: { studyId: string; predictors: string[] }) {
  const { data: cohort } = useQuery({
    queryKey: ['development', studyId],
    queryFn: () => ask(cohortRoutes.development, { study: studyId }),
  });
  const { notes, known } = useLeakNotes(studyId, cohort ?? undefined, predictors);
  if (notes.length === 0)
    return (
      <p className="quiet" aria-live="polite">
        {known
          ? 'No predictor seems to be recorded after the outcome.'
          : 'Checking whether predictors are recorded after the outcome.'}
      </p>
    );
  return (
    <Notice kind="plain">
      <strong>Possible leaks among the predictors.</strong>{' '}
      {notes.map(({ id, title, list }) => (
        <span key={id}>
          {title}
          {list && `: ${list.join('; ')}`}
          {title.endsWith('?') ? ' ' : '. '}
        </span>
      ))}
      <a href={`/studies/${studyId}/design#predictors`}>Choose predictors</a>
    </Notice>
  );
}
