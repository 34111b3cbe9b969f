import type { NetworkShown } from '@rook-scale/core/families';
import { showFixed } from '../../../browser/numbers.ts';
import { IntervalStrip } from '../../../components/index.ts';
import { weightsOf } from './network-shape.ts';
import type { Unit } from './NetworkView.tsx';
import styles from './Network.module.css';

interface Props {
  shown: NetworkShown;
  unit: Unit;
  nameOf: (unit: Unit) => string;
}

/** The weights of one unit, the largest first. */
export function UnitTable({ shown, unit: [layer, place], nameOf }: Props) {
  const { constant, weights } = weightsOf(shown, layer, place);
  const reach = Math.max(1e-9, ...weights.map(Math.abs));
  const order = [...weights.keys()].sort((a, b) => Math.abs(weights[b]) - Math.abs(weights[a]));
  return (
    <table className={styles.table}>
      <caption>
        Weights of {nameOf([layer, place])}, constant {signed(constant)}
      </caption>
      <thead>
        <tr>
          <th scope="col">From</th>
          <th scope="col" colSpan={2}>
            Weight
          </th>
        </tr>
      </thead>
      <tbody>
        {order.map((from) => (
          <tr key={from}>
            <th scope="row">{nameOf([layer - 1, from])}</th>
            <td>{signed(weights[from])}</td>
            <td className={styles.strip}>
              <IntervalStrip
                value={weights[from]}
                from={-reach}
                to={reach}
                beside={0}
                ticks={[-reach, 0, reach]}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const signed = (value: number): string => showFixed(value, 2);
