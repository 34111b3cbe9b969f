import { useState } from 'react';
import type { ImportanceShown } from '@rook-scale/core/families';
import { plural, showCount, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { Button, IntervalStrip } from '../../../components/index.ts';
import type { FacetProps } from '../Facets.tsx';
import { nameOfTerm } from '../input-words.ts';
import styles from './Ensemble.module.css';

/** Rows that are shown before one asks for all. */
const first = 12;

/** How much a model needs each input: what its loss rises by when the values are dealt anew. */
export function ImportanceTable({ value: shown, detail }: FacetProps<'importance'>) {
  const [all, setAll] = useState(false);
  const rows = all ? shown.inputs : shown.inputs.slice(0, first);
  const ends = shown.inputs.flatMap(({ interval }) => interval);
  const [from, to] = [Math.min(0, ...ends), Math.max(...ends, 1e-12)];
  // As many decimals as tell a thousandth of the whole ruler.
  const decimals = Math.max(0, 3 - Math.ceil(Math.log10(to - from)));
  const figure = (value: number) => showFixed(value, Math.min(decimals, 12));
  return (
    <div>
      <table className={styles.importance}>
        <caption>Importance</caption>
        <thead>
          <tr>
            <th scope="col">Predictor</th>
            <th scope="col" title={`What the ${shown.loss} rises by`}>
              Rise
            </th>
            <th scope="col">95% interval</th>
            <th scope="col">
              <span className={styles.ends}>
                <span>{figure(from)}</span>
                <span>{figure(to)}</span>
              </span>
            </th>
            <th scope="col" title="Share of what all splits gained">
              Share of gains
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ input, rise, interval, gained }) => (
            <tr key={input}>
              <th scope="row">{nameOfTerm(input, detail)}</th>
              <td>{figure(rise)}</td>
              <td>
                {figure(interval[0])} to {figure(interval[1])}
              </td>
              <td className={styles.strip}>
                <IntervalStrip
                  value={rise}
                  interval={interval}
                  from={from}
                  to={to}
                  beside={0}
                  ticks={[]}
                />
              </td>
              <td>{showPercent(gained)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown.inputs.length > first && (
        <Button look="link" onClick={() => setAll(!all)}>
          {all ? `Only the first ${first}` : `All ${showCount(shown.inputs.length)}`}
        </Button>
      )}
      <p className="quiet">{captionOf(shown, (input) => nameOfTerm(input, detail))}</p>
    </div>
  );
}

function captionOf(
  { inputs, loss, patients, whose }: ImportanceShown,
  nameOf: (input: string) => string,
): string {
  const needed = inputs.filter(({ interval }) => interval[0] > 0);
  const judged =
    whose === 'out of bag'
      ? `${plural(patients, 'patient')}, each judged by the trees that did not learn from them`
      : `${plural(patients, 'patient')} who were watched, not learned from`;
  const how = `Values of one predictor at a time are dealt anew among ${judged}; the rise of the ${loss} is what the model needs it for. Predictors that say the same share it.`;
  if (needed.length === 0) return `No predictor’s rise can be told from none. ${how}`;
  const rest = inputs.length - needed.length;
  const most = `${nameOf(needed[0].input)} is needed most.`;
  return `${most}${rest > 0 ? ` ${plural(rest, 'predictor')} of ${showCount(inputs.length)} cannot be told from not needed.` : ''} ${how}`;
}
