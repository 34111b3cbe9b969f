import type { DiscriminantsShown } from '@rook-scale/core/families';
import { plural, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { IntervalStrip, MarkKey, marksOfLevels } from '../../../components/index.ts';
import { Curves, Facing } from '../densities/index.ts';
import type { FacetProps } from '../Facets.tsx';
import { comparisonOf, nameOfTerm } from '../input-words.ts';
import { CloudMap } from './CloudMap.tsx';
import styles from './Discriminants.module.css';

/** Where levels lie along the directions that part them, and what each input has in these. */
export function DiscriminantsView({ value: shown, detail, line }: FacetProps<'discriminants'>) {
  const { directions, levels, outcome, inputs, map } = shown;
  const choice = line.outcome?.choice;
  const marks = marksOfLevels(levels, choice?.kind === 'levels' && choice.ordered);
  const order = [...inputs.keys()].sort(
    (a, b) => Math.abs(directions[0]?.weights[b] ?? 0) - Math.abs(directions[0]?.weights[a] ?? 0),
  );
  const reach = Math.max(1e-9, ...directions.flatMap(({ weights }) => weights.map(Math.abs)));
  return (
    <section className={styles.discriminants}>
      <h3>What parts {outcome === 'event' ? 'the two clouds' : 'the clouds'}</h3>
      <div className={styles.drawings}>
        {map && (
          <div className={styles.map}>
            <CloudMap
              shown={shown}
              map={map}
              marks={marks}
              bent={line.settings.shape === 'quadratic'}
              name={line.name}
            />
            <MarkKey marks={marks} lettered />
          </div>
        )}
        <div>
          {directions.map((direction, k) => (
            <figure key={k} className={styles.direction}>
              {direction.densities &&
                (outcome === 'event' ? (
                  <Facing input={{ input: '', apart: 0, ...direction }} />
                ) : (
                  <Curves
                    input={{ input: '', apart: 0, ...direction, means: undefined }}
                    levels={levels}
                  />
                ))}
              <figcaption>
                {outcome === 'event'
                  ? 'with the event above, without below'
                  : `direction ${k + 1}: ${showPercent(direction.share)} of what parts them`}
              </figcaption>
            </figure>
          ))}
        </div>
      </div>
      <p className="quiet">{captionOf(shown)}</p>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Input</th>
            <th scope="col">Compared</th>
            {directions.map((_, k) => (
              <th key={k} scope="col" colSpan={2}>
                {directions.length > 1 ? `Direction ${k + 1}, per SD` : 'Weight, per SD'}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {order.map((j) => (
            <tr key={inputs[j]}>
              <th scope="row">{nameOfTerm(inputs[j], detail)}</th>
              <td className={styles.compared}>{comparisonOf(inputs[j], detail)}</td>
              {directions.map(({ weights }, k) => [
                <td key={`${k} figure`}>{showFixed(weights[j], 2)}</td>,
                <td key={`${k} strip`} className={styles.strip}>
                  <IntervalStrip
                    value={weights[j]}
                    from={-reach}
                    to={reach}
                    beside={0}
                    ticks={[-reach, 0, reach]}
                  />
                </td>,
              ])}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function captionOf({ outcome, levels, directions, priors, inputs }: DiscriminantsShown): string {
  if (directions.length === 0) return 'The means of all levels are the same: nothing parts them.';
  const [{ means, share }] = directions;
  const begin =
    outcome === 'event'
      ? `A patient begins from a risk of ${showPercent(priors[1])}.`
      : `A patient begins from ${levels.map((level, k) => `${level} ${showPercent(priors[k])}`).join(', ')}.`;
  const far = (one: number, other: number) => showFixed(Math.abs(means[one] - means[other]), 2);
  const apart =
    outcome === 'event'
      ? `The means of both clouds lie ${far(0, 1)} SDs apart in the direction that ${plural(inputs.length, 'input')} give together.`
      : `Along the first direction, ${showPercent(share)} of what parts them, ${levels[0]} and ${levels[levels.length - 1]} lie ${far(0, levels.length - 1)} SDs apart.`;
  return `${apart} ${begin} Weights are per SD within levels: they say what an input adds beside the others.`;
}
