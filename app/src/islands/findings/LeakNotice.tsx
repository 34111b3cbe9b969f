import { useQuery } from '@tanstack/react-query';
import { ask } from '../../browser/api.ts';
import { cohortRoutes } from '../../contract/cohorts.ts';
import { Notice } from '../../components/index.ts';
import { useLeakNotes } from './leaks.ts';

/** Says before a fit which predictors may be recorded after the outcome, or that they are being checked. */
export function LeakNotice({ studyId, predictors }: { studyId: string; predictors: string[] }) {
  const { data: cohort } = useQuery({
    queryKey: ['development', studyId],
    queryFn: () => ask(cohortRoutes.development, { study: studyId }),
  });
  const { notes, checking } = useLeakNotes(studyId, cohort ?? undefined, predictors);
  if (notes.length === 0)
    return checking ? (
      <p className="quiet" aria-live="polite">
        Checking whether predictors are recorded after the outcome.
      </p>
    ) : null;
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
