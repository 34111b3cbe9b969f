import { showP } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import type { FacetProps } from './Facets.tsx';
import { nameOfTerm } from './input-words.ts';
import styles from './Facets.module.css';

/** Whether the slopes are the same at every threshold, for all inputs and for each. */
export function ProportionalityTable({ value, detail }: FacetProps<'proportionality'>) {
  const { overall, inputs } = value;
  return (
    <table className={styles.table}>
      <caption>
        Are the slopes the same at every threshold? A small p says that they are not (Brant’s test).
      </caption>
      <thead>
        <tr>
          <th scope="col">Input</th>
          <th scope="col" />
          <th scope="col">χ²</th>
          <th scope="col">df</th>
          <th scope="col">p</th>
        </tr>
      </thead>
      <tbody>
        {[{ input: 'all together', ...overall }, ...inputs].map(
          ({ input, chiSquare, degrees, p }) => (
            <tr key={input}>
              <th scope="row">{nameOfTerm(input, detail)}</th>
              <td />
              <td>{showFixed(chiSquare, 2)}</td>
              <td>{degrees}</td>
              <td>{showP(p)}</td>
            </tr>
          ),
        )}
      </tbody>
    </table>
  );
}
