import { useQuery } from '@tanstack/react-query';
import type { SearchMeasure } from '@rook-scale/core/search';
import {
  searchRoutes,
  type NestedShown,
  type SearchDetail,
  type SearchLine,
} from '../../contract/searches.ts';
import { ask } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { Button } from '../../components/index.ts';
import { fieldsOfSearch, settingsText, showTried } from './words.ts';

interface Props {
  line: SearchLine;
  detail: SearchDetail;
  measure: SearchMeasure;
  act: (work: Promise<unknown>) => void;
}

/** The choice made anew inside every fold, on demand. */
export function NestedCheck({ line, detail, measure, act }: Props) {
  const { nesting } = detail;
  const isDone = line.state === 'done';
  const { data } = useQuery({
    queryKey: ['nested', line.id, measure.id, line.settings, line.otherCosts],
    queryFn: () =>
      ask(searchRoutes.nested, { search: line.id }, { query: { measure: measure.id } }),
    enabled: nesting?.asked === true && isDone,
    staleTime: 60_000,
  });
  if (!nesting) return null;
  if (!nesting.asked)
    return isDone && !line.outOfDate ? (
      <p>
        <Button look="link" onClick={() => act(ask(searchRoutes.nest, { search: line.id }))}>
          Check the choice by nested cross-validation
        </Button>{' '}
        <span className="quiet">
          {plural(nesting.fits, 'fit')}: the best is chosen anew inside every fold, by the others
          alone.
        </span>
      </p>
    ) : null;
  if (!isDone) return null;
  if (data === undefined) return <p role="status">Choosing anew inside every fold</p>;
  if (data === null)
    return (
      <p className="quiet">
        What the choice comes to inside the folds cannot be told: too few settings were fitted
        without every two of them.
      </p>
    );
  return (
    <p>
      Chosen anew inside every fold and judged on it, {measure.name} is{' '}
      <strong>{showTried(measure, data.value)}</strong>
      {data.error !== undefined && ` ± ${showTried(measure, data.error)}`}. Chosen:{' '}
      {chosenText(line, detail, data)}.{' '}
      <span className="quiet">Nested cross-validation of {plural(data.among, 'combination')}.</span>
    </p>
  );
}

/** "trees 200 in 3 folds, trees 400 in 2 folds". */
function chosenText(line: SearchLine, { trials, varied }: SearchDetail, found: NestedShown) {
  const times = new Map<number, number>();
  for (const one of found.chosen) times.set(one, (times.get(one) ?? 0) + 1);
  return [...times]
    .sort((a, b) => b[1] - a[1])
    .map(
      ([number, folds]) =>
        `${settingsText(fieldsOfSearch(line), varied, trials[number].values)} in ${plural(folds, 'fold')}`,
    )
    .join('; ');
}
