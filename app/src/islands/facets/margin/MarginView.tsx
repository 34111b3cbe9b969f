import type { MarginShown } from '@rook-scale/core/families';
import { plural, showCount, showInUnit, showPercent, showRisk } from '../../../browser/format.ts';
import { short } from '../ensemble/words.ts';
import type { FacetProps } from '../Facets.tsx';
import { Decisions } from './Decisions.tsx';
import styles from './Margin.module.css';

type Machine = MarginShown['machines'][number];

/** On how many patients the border rests, and where patients of inner folds lie from it. */
export function MarginView({ value: shown, line }: FacetProps<'margin'>) {
  const { machines, outcome } = shown;
  const [first] = machines;
  const label = line.outcome?.label ?? '';
  return (
    <section className={styles.margin}>
      <h3>{outcome === 'number' ? 'Who supports the curve' : 'Margin'}</h3>
      <p className="quiet">{captionOf(shown, label, line.outcome?.unit ?? '')}</p>
      {outcome === 'event' && first?.at && (
        <figure className={styles.drawing}>
          <Decisions machine={first} />
          <figcaption>
            patients of inner folds by decision value: with the event above the line, without below;
            0 is the border, from −1 to 1 the margin
          </figcaption>
        </figure>
      )}
      {outcome === 'levels' && (
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">Pair</th>
              <th scope="col">The second above the line, the first below</th>
              <th scope="col">Patients</th>
              <th scope="col">Supports</th>
              <th scope="col">In the margin</th>
            </tr>
          </thead>
          <tbody>
            {machines.map((machine) => (
              <tr key={machine.pair!.join(' ')}>
                <th scope="row">{machine.pair!.join(' · ')}</th>
                <td className={styles.small}>{machine.at && <Decisions machine={machine} />}</td>
                <td>{showCount(machine.patients)}</td>
                <td>{showCount(machine.supports)}</td>
                <td>{showCount(machine.atMost)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function captionOf(shown: MarginShown, label: string, unit: string): string {
  const { outcome, machines, tube = 0 } = shown;
  const borders = bordersOf(shown);
  if (outcome === 'levels')
    return `${borders} One border for each pair of levels; shares come from all pairs together.`;
  const [machine] = machines;
  const whom = label ? ` of ${label}` : '';
  if (outcome === 'number')
    return `${supportsOf(machine)}: the others lie within ${showInUnit(Number(short(tube)), unit)} of the curve${whom}, which costs nothing. ${borders}`;
  return `${supportsOf(machine)}, ${showCount(machine.atMost)} of them inside the margin or beyond it. ${riskAtBorder(machine)} ${borders}`;
}

const supportsOf = ({ supports, patients }: Machine): string =>
  `${showCount(supports)} of ${plural(patients, 'patient')} (${showPercent(supports / patients)}) are supports`;

function riskAtBorder({ sigmoid }: Machine): string {
  if (!sigmoid) return '';
  const risk = (decision: number) =>
    showRisk(1 / (1 + Math.exp(sigmoid.slope * decision + sigmoid.constant)));
  return `By what happened to patients of inner folds, the risk is ${risk(-1)} at −1, ${risk(0)} at the border and ${risk(1)} at 1.`;
}

function bordersOf({ shape, width, cost }: MarginShown): string {
  if (shape === 'radial' && width !== undefined)
    return `Patients ${short(width)} SDs apart count as alike to 61%; being inside the margin costs ${short(cost)}.`;
  return shape === 'linear'
    ? `The border is straight; being inside the margin costs ${short(cost)}.`
    : `The border is bent by products; being inside the margin costs ${short(cost)}.`;
}
