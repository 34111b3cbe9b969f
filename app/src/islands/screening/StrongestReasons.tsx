import { useQuery } from '@tanstack/react-query';
import {
  screeningRoutes,
  type ScreenedRow,
  type ScreeningView,
} from '../../contract/screenings.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';

/** Lines whose reasons are asked for together. */
const together = 50;

/** What speaks most for and against a patient: + raises what is said, − lowers it. */
export function StrongestReasons({ view, row }: { view: ScreeningView; row: ScreenedRow }) {
  const { labelOf } = useDictionary(view.studyId);
  const from = together * Math.floor((row.rank - 1) / together);
  const { data, error } = useQuery({
    queryKey: ['reasons in a list', view.id, view.createdAt, from],
    queryFn: () =>
      ask(
        screeningRoutes.reasons,
        { screening: view.id },
        { query: { from, count: Math.min(together, view.rowCount - from) } },
      ),
    staleTime: Infinity,
  });
  if (error) return <span title={messageOf(error)}>–</span>;
  if (!data) return <span className="quiet">…</span>;
  const reasons = data.patients[row.rank - 1 - from] ?? [];
  if (reasons.length === 0) return '–';
  const words = reasons.map(
    ({ name, value, isImputed }) =>
      `${value > 0 ? '+' : '−'} ${labelOf(name)}${isImputed ? ' (missing, imputed)' : ''}`,
  );
  const isCertain = data.certain?.[row.rank - 1 - from] ?? true;
  const about = `${words.join(', ')}${isCertain ? '' : '. Estimated from a sample: other predictors, or another order, are as likely.'}`;
  return (
    <span title={about}>
      {words.join(', ')}
      {!isCertain && <span className="quiet"> (order not certain)</span>}
    </span>
  );
}
