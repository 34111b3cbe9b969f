import type { PathShown } from '@rook-scale/core/families';
import type { CandidateDetail } from '../../../contract/candidates.ts';
import { showDigits, showFixed } from '../../../browser/numbers.ts';
import { comparisonOf, nameOfTerm } from '../input-words.ts';
import { nameOfWay } from './path-words.ts';
import styles from './Path.module.css';

interface Props {
  path: PathShown;
  place: number;
  detail: CandidateDetail;
  /** Coefficients are log-odds. */
  asRatios: boolean;
}

/** The coefficients at one strength: of each level, or as given, per SD and as an odds ratio. */
export function PathTable({ path, place, detail, asRatios }: Props) {
  const { lines, levels } = path;
  const size = ({ ways, deviation }: PathShown['lines'][number]) =>
    Math.max(...ways.map((way) => Math.abs(way[place]))) * deviation;
  const isIn = ({ ways }: PathShown['lines'][number]) => ways.some((way) => way[place] !== 0);
  const kept = lines.filter(isIn).sort((one, other) => size(other) - size(one));
  const out = lines.filter((one) => !isIn(one));
  return (
    <>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Input</th>
            <th scope="col">Compared</th>
            {levels ? (
              levels.map((level) => (
                <th key={level} scope="col" title={`Coefficient for ${level}, per SD`}>
                  {level}, per SD
                </th>
              ))
            ) : (
              <>
                <th scope="col">Coefficient</th>
                <th scope="col">Per SD</th>
                {asRatios && <th scope="col">Odds ratio</th>}
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {kept.map(({ input, deviation, ways }) => (
            <tr key={input}>
              <th scope="row">{nameOfTerm(input, detail)}</th>
              <td className={styles.compared}>{comparisonOf(input, detail)}</td>
              {levels ? (
                ways.map((way, level) => (
                  <td key={levels[level]}>
                    {way[place] === 0 ? '–' : show(way[place] * deviation)}
                  </td>
                ))
              ) : (
                <>
                  <td>{show(ways[0][place])}</td>
                  <td>{show(ways[0][place] * deviation)}</td>
                  {asRatios && <td>{showFixed(Math.exp(ways[0][place]), 2)}</td>}
                </>
              )}
            </tr>
          ))}
          <tr>
            <th scope="row">Intercept</th>
            <td />
            {levels ? (
              levels.map((level, k) => <td key={level}>{show(path.constants[k][place])}</td>)
            ) : (
              <>
                <td>{show(path.constants[0][place])}</td>
                <td />
                {asRatios && <td />}
              </>
            )}
          </tr>
        </tbody>
      </table>
      {out.length > 0 && (
        <p className="quiet">
          Left out: {out.map(({ input }) => nameOfWay(input, detail)).join(', ')}.
        </p>
      )}
      <p className="quiet">
        Penalised coefficients are too small on purpose, and so come without standard errors.
      </p>
    </>
  );
}

const show = (value: number): string =>
  Math.abs(value) < 1e4 ? showFixed(value, 3) : showDigits(value, 3);
