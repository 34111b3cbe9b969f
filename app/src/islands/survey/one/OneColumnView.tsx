import { ChevronLeft, ChevronRight } from 'lucide-react';
import { display, isCoded } from '@rook-scale/core/table';
import { setAddress } from '../../../browser/address.ts';
import { Button } from '../../../components/index.ts';
import { canDraw, canGroup, ColumnSelect, useColumnChoice, useGroupChoice } from '../choices.tsx';
import { useSurvey } from '../context.ts';
import styles from '../Survey.module.css';
import { OneCategory } from './OneCategory.tsx';
import { OneNumber } from './OneNumber.tsx';

/** One column in full, by the levels of another. */
export function OneColumnView() {
  const { cohort, design } = useSurvey();
  const entry = useColumnChoice('column', canDraw, design?.predictors[0]);
  const by = useGroupChoice();
  if (!entry) return <p>No column of this cohort can be drawn: all are text.</p>;
  const drawn = cohort.dictionary.filter(canDraw);
  const place = drawn.indexOf(entry);
  const go = (step: number) =>
    setAddress({ column: drawn[(place + step + drawn.length) % drawn.length].name }, 'replace');
  const grouping = by && by.name !== entry.name ? by : undefined;
  return (
    <>
      <div className={styles.choices}>
        <ColumnSelect label="Column" part="column" value={entry.name} allowed={canDraw} />
        <span>
          <Button aria-label="Previous column" title="Previous column" onClick={() => go(-1)}>
            <ChevronLeft size={14} aria-hidden="true" />
          </Button>{' '}
          <Button aria-label="Next column" title="Next column" onClick={() => go(1)}>
            <ChevronRight size={14} aria-hidden="true" />
          </Button>
        </span>
        <ColumnSelect
          label="by"
          part="by"
          value={by?.name}
          none="nothing"
          allowed={(one) => canGroup(one)}
        />
        <p>
          {entry.kind}, {entry.role}
          {entry.label && entry.label !== entry.name && `; ${entry.name} in the file`}
        </p>
      </div>
      {isCoded(entry.kind) ? (
        <OneCategory key={entry.name} entry={entry} by={grouping} />
      ) : (
        <OneNumber key={entry.name} entry={entry} by={grouping} title={display(entry)} />
      )}
    </>
  );
}
