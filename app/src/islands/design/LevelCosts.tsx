import { useState } from 'react';
import { levelCostsOf } from '@rook-scale/core/design';
import { costPresets, oneLevelForAll, type CostPreset } from '@rook-scale/core/measures';
import { showCost } from '../../browser/format.ts';
import { readNumber } from '../../browser/numbers.ts';
import { Button } from '../../components/index.ts';
import type { SectionProps } from './DesignPage.tsx';
import styles from './LevelCosts.module.css';

/** What giving a wrong level costs: the level that a patient is given follows from it. */
export function LevelCosts({ design, cohort, state, change }: SectionProps) {
  const entry = cohort.dictionary.find(({ name }) => name === design.outcome);
  const levels = entry?.levels ?? [];
  if (levels.length < 2) return null;
  const equal = costPresets.equal(levels.length);
  const costs = levelCostsOf(design, levels) ?? equal;
  const put = (next: number[][]) =>
    change({ levelCosts: isSame(next, equal) ? null : { levels, costs: next } });
  const presets = (Object.keys(costPresets) as CostPreset[]).filter(
    (name) => name === 'equal' || entry?.kind === 'ordered category',
  );
  const known = state.counts?.levels;
  return (
    <section className={styles.section} aria-labelledby="level-costs">
      <div className={styles.head}>
        <h2 id="level-costs">What a wrong level costs</h2>
        {presets.map((name) => {
          const preset = costPresets[name](levels.length);
          return (
            <Button
              key={name}
              look="link"
              disabled={isSame(costs, preset)}
              onClick={() => put(preset)}
            >
              {presetWords[name]}
            </Button>
          );
        })}
      </div>
      <div
        className={styles.scroller}
        tabIndex={0}
        role="region"
        aria-label="Costs of wrong levels"
      >
        <table className={styles.table}>
          <caption>True level in rows, given level in columns</caption>
          <thead>
            <tr>
              <td />
              {levels.map((level) => (
                <th scope="col" key={level}>
                  {level}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {levels.map((level, i) => (
              <tr key={level}>
                <th scope="row">{level}</th>
                {levels.map((given, j) => (
                  <td key={given}>
                    <Cost
                      label={`Cost of giving ${given} to a patient with ${level}`}
                      value={costs[i][j]}
                      onChange={(value) =>
                        put(
                          costs.map((row, r) =>
                            row.map((one, c) => (r === i && c === j ? value : one)),
                          ),
                        )
                      }
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="quiet">
        {design.levelCosts
          ? 'A patient is given the level that costs least to expect.'
          : 'Every error costs the same: a patient is given the likeliest level.'}{' '}
        {known && known.length === levels.length && referenceText(known, costs, levels)} Who is
        called in does not follow from this table, but from the costs of a missed case and a false
        alarm.
      </p>
    </section>
  );
}

const presetWords: { [K in CostPreset]: string } = {
  equal: 'every error 1',
  distance: 'by distance',
  'squared distance': 'by squared distance',
};

/** Giving everybody the one level that is cheapest for all. */
function referenceText(known: number[], costs: number[][], levels: string[]): string {
  const { place, costPerThousand } = oneLevelForAll(known, costs);
  return `Giving every development patient ${levels[place]}, which is cheapest without knowing anything, costs ${showCost(costPerThousand)} per 1,000.`;
}

const isSame = (a: number[][], b: number[][]) => JSON.stringify(a) === JSON.stringify(b);

interface CostProps {
  label: string;
  value: number;
  onChange: (value: number) => void;
}

/** Taken over when the field is left or Enter is pressed, and only a number from 0 on. */
function Cost({ label, value, onChange }: CostProps) {
  const [typed, setTyped] = useState({ from: value, text: String(value) });
  const text = typed.from === value ? typed.text : String(value);
  const number = readNumber(text);
  const valid = text.trim() !== '' && number >= 0 && number <= 1e9;
  const take = () => {
    if (!valid || number === value) return;
    setTyped({ from: number, text: String(number) });
    onChange(number);
  };
  return (
    <input
      className="figures"
      inputMode="decimal"
      aria-label={label}
      title={valid ? label : 'A number from 0 on, please.'}
      aria-invalid={!valid}
      value={text}
      onChange={(event) => setTyped({ from: value, text: event.target.value })}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}
