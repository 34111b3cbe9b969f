import { useState } from 'react';
import { skewedFrom, type Histogram, type ReshapedNumber } from '@rook-scale/core/survey';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { showFixed } from '../../../browser/numbers.ts';
import { Button } from '../../../components/index.ts';
import { useSurvey } from '../context.ts';
import styles from '../Survey.module.css';
import { useCalculation } from '../use-calculation.ts';
import own from './OneColumn.module.css';

interface Props {
  entry: DictionaryEntry;
  values: Float64Array;
  skewness: number | undefined;
}

/** What a reshaping would do to a skewed number, before and after. */
export function Reshape({ entry, values, skewness }: Props) {
  const { version, look } = useSurvey();
  const skewed = Math.abs(skewness ?? 0) >= skewedFrom;
  const [asked, setAsked] = useState(false);
  const open = skewed || asked;
  const { result } = useCalculation(
    'reshapings',
    [version, look, entry.name, ''],
    open ? [values] : undefined,
  );
  if (skewness === undefined) return null;
  const best = result?.ways[0];
  return (
    <section className={styles.section}>
      <h2>Reshaping</h2>
      {!open && (
        <p className="quiet">
          Skewness {showFixed(skewness, 2)}: no reshaping is called for.{' '}
          <Button look="link" onClick={() => setAsked(true)}>
            Show what it would do
          </Button>
        </p>
      )}
      {best && result && (
        <>
          <p>
            {Math.abs(best.skewness) < Math.abs(skewness) - 0.1
              ? `${say(best)} takes the skewness of ${display(entry)} from ${showFixed(skewness, 2)} to ${showFixed(best.skewness, 2)}.`
              : `No reshaping makes ${display(entry)} less skewed than it is (${showFixed(skewness, 2)}).`}
          </p>
          <div className={own.ways}>
            {result.ways.map((way) => (
              <figure key={way.way}>
                <Small histogram={way.histogram} />
                <figcaption>
                  {say(way)}: {showFixed(way.skewness, 2)}
                </figcaption>
              </figure>
            ))}
          </div>
        </>
      )}
    </section>
  );
}

function say({ way, lambda, atBound }: Pick<ReshapedNumber, 'way' | 'lambda' | 'atBound'>): string {
  if (way === 'log') return 'The logarithm';
  return `${way}, λ ${showFixed(lambda, 2)}${atBound ? ' (the end of what is tried)' : ''}`;
}

function Small({ histogram: { counts } }: { histogram: Histogram }) {
  const most = Math.max(...counts);
  const step = 180 / counts.length;
  return (
    <svg width="180" height="56" aria-hidden="true">
      {counts.map((count, i) => (
        <rect
          key={i}
          x={i * step}
          y={56 - (54 * count) / most}
          width={Math.max(0.8, step - 0.6)}
          height={(54 * count) / most}
        />
      ))}
    </svg>
  );
}
