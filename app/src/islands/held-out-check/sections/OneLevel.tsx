import { useCallback, useState } from 'react';
import { curvesOf } from '@rook-scale/core/comparing';
import { nobodyOf } from '@rook-scale/core/measures';
import type { Outcome, Predictions } from '@rook-scale/core/outcome';
import { Select } from '../../../components/index.ts';
import { ComparedFigures, drawnFrom } from '../../compared/index.ts';
import type { SectionProps } from './section.ts';
import { useLater } from './use-later.ts';
import styles from './Sections.module.css';

interface Props {
  predictions: Predictions<'levels'>;
  outcome: Outcome<'levels'>;
  line: SectionProps['line'];
}

/** One level against all others, or a level and all above it: how it is ranked, and whether its shares come true. */
export function OneLevel({ predictions, outcome, line }: Props) {
  const { levels, ordered } = outcome;
  const [asked, setAsked] = useState(String(levels.length - 1));
  const [from, isAtLeast] = [Number(asked.replace('+', '')), asked.endsWith('+')];
  const curves = useLater(
    useCallback(() => {
      const width = levels.length;
      const isIn = (level: number) => (isAtLeast ? level >= from : level === from);
      const known = Array.from(outcome.values.keys()).filter((i) => outcome.values[i] >= 0);
      return curvesOf({
        scores: Float64Array.from(known, (i) => {
          let share = 0;
          for (let k = 0; k < width; k++) if (isIn(k)) share += predictions.shares[i * width + k];
          return Math.min(1, share);
        }),
        events: Uint8Array.from(known, (i) => Number(isIn(outcome.values[i]))),
        times: 1,
        // What a call of one level costs depends on the others: no cost is drawn.
        costs: { missedCost: 1, falseAlarmCost: 1, levelCosts: [] },
        nobody: nobodyOf('levels'),
        ...{ isShare: true, from: 0, to: 1 },
      });
    }, [predictions, outcome, levels, from, isAtLeast]),
  );
  // The least of all levels, or more, is everybody.
  const offered = levels.flatMap((level, k) => [
    { value: String(k), label: `${level} against the others` },
    ...(ordered && k > 0 && k < levels.length - 1
      ? [{ value: `${k}+`, label: `at least ${level} against the others` }]
      : []),
  ]);
  return (
    <section className={styles.oneLevel} aria-label="One level">
      <Select label="Drawn for" value={asked} options={offered} onChange={setAsked} />
      {!curves ? (
        <p role="status" className={styles.waiting}>
          Setting shares against what happened
        </p>
      ) : curves.area === undefined ? (
        <p className="quiet">Nobody, or everybody, has it here: nothing can be drawn.</p>
      ) : (
        <ComparedFigures
          // Its cutoff is of the cases, not of this level.
          all={drawnFrom([{ ...line, results: undefined }], [curves])}
          kind="levels"
          whose="held out"
        />
      )}
    </section>
  );
}
