import { display, isCoded } from '@rook-scale/core/table';
import { setAddress } from '../../../browser/address.ts';
import { Button } from '../../../components/index.ts';
import { canDraw, ColumnSelect, useColumnChoice } from '../choices.tsx';
import { useSurvey } from '../context.ts';
import { OneNumber } from '../one/OneNumber.tsx';
import styles from '../Survey.module.css';
import { CrossTableView } from './CrossTableView.tsx';
import { ScatterView } from './ScatterView.tsx';

/** Two columns against each other, drawn as their kinds allow. */
export function TwoColumnsView() {
  const { cohort, design } = useSurvey();
  const numbers = (design?.predictors ?? []).filter(
    (name) => cohort.dictionary.find((entry) => entry.name === name)?.kind === 'number',
  );
  const x = useColumnChoice('x', canDraw, numbers[0]);
  const y = useColumnChoice('y', (entry) => canDraw(entry) && entry.name !== x?.name, numbers[1]);
  if (!x || !y) return <p>Two columns that can be drawn are needed; this cohort has fewer.</p>;
  const swap = () => setAddress({ x: y.name, y: x.name }, 'replace');
  const coded = [x, y].filter(({ kind }) => isCoded(kind));
  return (
    <>
      <div className={styles.choices}>
        <ColumnSelect label="Across" part="x" value={x.name} allowed={canDraw} />
        <ColumnSelect
          label="up"
          part="y"
          value={y.name}
          allowed={(entry) => canDraw(entry) && entry.name !== x.name}
        />
        <Button onClick={swap}>Swap</Button>
      </div>
      {coded.length === 0 && <ScatterView x={x} y={y} />}
      {coded.length === 2 && <CrossTableView across={x} down={y} />}
      {coded.length === 1 && (
        <OneNumber
          key={`${x.name} ${y.name}`}
          entry={isCoded(x.kind) ? y : x}
          by={coded[0]}
          title={`${display(x)} and ${display(y)}`}
        />
      )}
    </>
  );
}
