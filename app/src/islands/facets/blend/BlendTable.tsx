import { familyDescriptions, type BlendShown } from '@rook-scale/core/families';
import { plural, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import type { FacetProps } from '../Facets.tsx';
import styles from './BlendTable.module.css';

/** The parts of a blend, each with its weight, and what each would come to by itself. */
export function BlendTable({ value: shown }: FacetProps<'blend'>) {
  const { parts, loss, together, patients } = shown;
  const hasLoss = together !== undefined;
  const figure = figuresFor(parts.flatMap(({ alone }) => alone ?? []));
  return (
    <>
      <table className={styles.table}>
        <caption>Parts and weights</caption>
        <thead>
          <tr>
            <th scope="col">Part</th>
            <th scope="col">Predictors</th>
            <th scope="col">Weight</th>
            <th scope="col" aria-hidden="true" />
            {hasLoss && <th scope="col">{loss}, out of fold</th>}
          </tr>
        </thead>
        <tbody>
          {parts.map(({ name, family, weight, predictors, alone }) => (
            <tr key={name}>
              <th scope="row">
                {name} <span className="quiet">{kindBeside(name, family)}</span>
              </th>
              <td>{predictors}</td>
              <td>{showPercent(weight)}</td>
              <td className={styles.share} aria-hidden="true">
                <span style={{ width: `${100 * weight}%` }} />
              </td>
              {alone !== undefined && <td>{figure(alone)}</td>}
            </tr>
          ))}
          {hasLoss && (
            <tr className={styles.together}>
              <th scope="row">Blend</th>
              <td />
              <td />
              <td />
              <td>{figure(together)}</td>
            </tr>
          )}
        </tbody>
      </table>
      <p className="quiet">
        {patients === undefined
          ? 'Every part counts the same; nothing was learned about them.'
          : `${weightsText(shown)} Learned from what the parts say of ${plural(patients, 'development patient')} whom they did not learn from. For the figures of the table above they were learned anew inside each fold.`}
      </p>
    </>
  );
}

/** What it is, where its name does not say so. */
function kindBeside(name: string, id: string): string {
  const family = familyDescriptions.find((one) => one.id === id)?.name ?? id;
  return name.startsWith(family) ? '' : family.toLowerCase();
}

function weightsText({ parts }: BlendShown): string {
  const without = parts.filter(({ weight }) => weight === 0).map(({ name }) => name);
  if (without.length === 0) return 'Every part adds something.';
  const rest = without.join(', ');
  return `${rest} ${without.length === 1 ? 'adds' : 'add'} nothing to the others, and ${without.length === 1 ? 'is' : 'are'} not asked.`;
}

/** As many decimals as show a hundredth of the least. */
function figuresFor(values: number[]): (value: number) => string {
  const least = Math.min(...values.filter((value) => value > 0));
  const decimals = Number.isFinite(least) ? Math.max(0, 3 - Math.ceil(Math.log10(least))) : 3;
  return (value) => showFixed(value, Math.min(10, decimals));
}
