import { useState } from 'react';
import type { DensitiesShown, DensityShown } from '@rook-scale/core/families';
import { plural, showCount, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { Button } from '../../../components/index.ts';
import { short } from '../ensemble/words.ts';
import type { FacetProps } from '../Facets.tsx';
import { nameOfTerm } from '../input-words.ts';
import { Curves, Facing } from './Curves.tsx';
import { Shares } from './Shares.tsx';
import styles from './Densities.module.css';

/** Rows that are shown before one asks for all. */
const first = 12;

/** How each predictor is spread in each level of the outcome, the most telling first. */
export function DensitiesTable({ value: shown, detail, line }: FacetProps<'densities'>) {
  const [all, setAll] = useState(false);
  const rows = all ? shown.inputs : shown.inputs.slice(0, first);
  const isEvent = shown.outcome === 'event';
  const label = line.outcome?.label ?? '';
  return (
    <section>
      <table className={styles.table}>
        <caption>Spread of predictors</caption>
        <thead>
          <tr>
            <th scope="col">Predictor</th>
            <th scope="col" title="0: levels are spread alike; 1: they have nothing in common">
              Apart
            </th>
            <th scope="col">
              {isEvent ? 'With the event above, without below' : lettersOf(shown.levels)}
            </th>
            <th scope="col">{isEvent ? 'With' : 'Mean ± SD, or commonest'}</th>
            {isEvent && <th scope="col">Without</th>}
          </tr>
        </thead>
        <tbody>
          {rows.map((input) => (
            <tr key={input.input}>
              <th scope="row">{nameOfTerm(input.input, detail)}</th>
              <td>{showFixed(input.apart, 2)}</td>
              <td className={styles.drawing}>
                {input.shares ? (
                  <Shares input={input} isEvent={isEvent} />
                ) : isEvent ? (
                  <Facing input={input} />
                ) : (
                  <Curves input={input} levels={shown.levels} />
                )}
              </td>
              {isEvent ? (
                [1, 0].map((level) => <td key={level}>{figuresOf(input, level)}</td>)
              ) : (
                <td>
                  {shown.levels.map((level, k) => (
                    <div key={level}>
                      {letterOf(k)} {figuresOf(input, k)}
                    </div>
                  ))}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {shown.inputs.length > first && (
        <Button look="link" onClick={() => setAll(!all)}>
          {all ? `Only the first ${first}` : `All ${showCount(shown.inputs.length)}`}
        </Button>
      )}
      <p className="quiet">{captionOf(shown, label, (input) => nameOfTerm(input, detail))}</p>
    </section>
  );
}

/** Mean and SD of a normal curve, or the commonest level of a predictor. */
function figuresOf({ means, deviations, levels, shares }: DensityShown, level: number): string {
  if (means && deviations) return `${short(means[level])} ± ${short(deviations[level])}`;
  if (!levels || !shares) return '';
  const own = shares[level];
  const most = own.indexOf(Math.max(...own));
  return `${levels[most]} ${showPercent(own[most])}`;
}

const lettersOf = (levels: string[]) =>
  levels.map((level, k) => `${letterOf(k)} ${level}`).join(' · ');

const letterOf = (level: number) => String.fromCharCode(65 + level);

function captionOf(
  { inputs, priors, levels, outcome }: DensitiesShown,
  label: string,
  nameOf: (input: string) => string,
): string {
  const [most] = inputs;
  const begin =
    outcome === 'event'
      ? `A patient begins from a risk of ${showPercent(priors[1])}`
      : `A patient begins from ${levels.map((level, k) => `${level} ${showPercent(priors[k])}`).join(', ')}`;
  const whom = label ? ` of ${label}` : '';
  return `${nameOf(most.input)} tells levels${whom} apart most. ${begin}, and each of ${plural(inputs.length, 'predictor')} moves it by how much likelier its value is in one level than in another; what is not known moves nothing. Apart: the share of patients who would have to move for all levels to look alike.`;
}
