import { BalanceTable } from './BalanceTable.tsx';
import type { SectionProps } from './DesignPage.tsx';
import { SpreadFigure } from './SpreadFigure.tsx';
import { useSides } from './use-sides.ts';
import styles from './Design.module.css';

/** Who is on which side, and how alike the sides are. */
export function BothSides({ cohort, state, studyId }: SectionProps & { studyId: string }) {
  const { data: sides, isError } = useSides(studyId, state);
  return (
    <section className={styles.section} aria-labelledby="both-sides">
      <h2 id="both-sides">How alike both sides are</h2>
      {sides ? (
        <>
          <BalanceTable balance={sides.balance} cohort={cohort} />
          <SpreadFigure sides={sides} cohort={cohort} />
        </>
      ) : (
        <p className="quiet">
          {isError
            ? 'It could not be counted; reload the page to try again.'
            : state.divisionId
              ? 'Being counted.'
              : 'Counted as soon as patients are divided.'}
        </p>
      )}
    </section>
  );
}
