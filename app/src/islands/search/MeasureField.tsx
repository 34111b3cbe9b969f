import type { OutcomeKind } from '@rook-scale/core/outcome';
import { searchMeasures } from '@rook-scale/core/search';
import { Field } from '../../components/index.ts';

interface Props {
  kind: OutcomeKind;
  value: string;
  onChange: (measure: string) => void;
}

/** The measure that is compared by. */
export function MeasureField({ kind, value, onChange }: Props) {
  const measures = searchMeasures[kind];
  return (
    <Field label="Compared by" help={measures.find(({ id }) => id === value)?.help}>
      {(ids) => (
        <select {...ids} value={value} onChange={({ target }) => onChange(target.value)}>
          {measures.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}
