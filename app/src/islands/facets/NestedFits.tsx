import type { CandidateDetail } from '../../contract/candidates.ts';
import { showP } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import { nameOfTerm } from './input-words.ts';
import styles from './Facets.module.css';

/** Likelihood-ratio tests against fits of the same family with fewer inputs, or more. */
export function NestedFits({ detail }: { detail: CandidateDetail }) {
  if (detail.nested.length === 0) return null;
  return (
    <table className={styles.table}>
      <caption>Against the same family with other predictors, on the same patients</caption>
      <thead>
        <tr>
          <th scope="col">Candidate</th>
          <th scope="col">Difference</th>
          <th scope="col">χ²</th>
          <th scope="col">df</th>
          <th scope="col">p</th>
        </tr>
      </thead>
      <tbody>
        {detail.nested.map(({ id, name, more, larger, chiSquare, degrees, p }) => {
          const inputs = more.map((input) => nameOfTerm(input, detail)).join(', ');
          return (
            <tr key={id}>
              <th scope="row">{name}</th>
              <td className={styles.compared} title={inputs}>
                {larger ? 'also has' : 'lacks'} {inputs}
              </td>
              <td>{showFixed(chiSquare, 2)}</td>
              <td>{degrees}</td>
              <td>{showP(p)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
