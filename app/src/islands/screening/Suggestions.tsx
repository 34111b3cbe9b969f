import type { Match, Suggestion } from '@rook-scale/core/screening';
import { plural } from '../../browser/format.ts';
import { Button } from '../../components/index.ts';
import styles from './Match.module.css';

interface Props {
  suggestions: Suggestion[];
  labelOf: (predictor: string) => string;
  busy: boolean;
  onUse: (matches: Match[]) => void;
  onChoose: (suggestion: Suggestion) => void;
}

/** Columns of the list that seem to be predictors under another name or in another unit. */
export function Suggestions({ suggestions, labelOf, busy, onUse, onChoose }: Props) {
  if (suggestions.length === 0) return null;
  return (
    <section className={styles.suggestions} aria-label="Suggested matches">
      <p>
        {plural(suggestions.length, 'predictor seems', 'predictors seem')} to be in the list under
        another name or in another unit:
      </p>
      <ul>
        {suggestions.map((one) => (
          <li key={one.predictor}>
            <SuggestionText of={one} labelOf={labelOf} />{' '}
            <button type="button" className="link" onClick={() => onChoose(one)}>
              Look closer
            </button>
          </li>
        ))}
      </ul>
      <div className={styles.acts}>
        <Button disabled={busy} onClick={() => onUse(suggestions.map(asMatch))}>
          Use {suggestions.length === 1 ? 'it' : 'them all'}
        </Button>
        <span className="quiet">Kept for later lists with nearly the same columns.</span>
      </div>
    </section>
  );
}

/** "serum_creatinine for Creatinine: a name that is alike, values in the same range." */
export function SuggestionText({
  of: { column, predictor, reasons },
  labelOf,
}: {
  of: Suggestion;
  labelOf: (predictor: string) => string;
}) {
  return (
    <>
      {column === predictor ? (
        <strong>{labelOf(predictor)}</strong>
      ) : (
        <>
          <strong>{column}</strong> for {labelOf(predictor)}
        </>
      )}
      : {reasons.join(', ')}.
    </>
  );
}

export function asMatch({ predictor, column, conversion }: Suggestion): Match {
  return { predictor, column, ...(conversion && { conversion }) };
}
