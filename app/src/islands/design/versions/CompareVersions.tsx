import { useState } from 'react';
import type { Design } from '@rook-scale/core/design';
import type { DesignVersion } from '../../../contract/designs.ts';
import { Select } from '../../../components/index.ts';
import { differencesBetween } from './design-fields.ts';
import page from '../Design.module.css';
import styles from './Versions.module.css';

interface Props {
  versions: DesignVersion[];
  design: Design;
  labelOf: (column: string) => string;
}

const inForce = 'in force';

/** Two designs field by field: only where they differ. */
export function CompareVersions({ versions, design, labelOf }: Props) {
  const [pair, setPair] = useState<[string, string]>([versions[0].id, inForce]);
  const all = [
    { id: inForce, name: 'the design in force', choices: design },
    ...versions.map(({ id, name, choices }) => ({ id, name, choices })),
  ];
  // A version may have been forgotten since it was chosen.
  const [one, other] = pair.map((id) => all.find((version) => version.id === id) ?? all[0]);
  const options = all.map(({ id, name }) => ({ value: id, label: name }));
  const differences = differencesBetween(one.choices, other.choices, labelOf);
  return (
    <>
      <div className={page.fields}>
        <Select
          label="Compare"
          value={one.id}
          options={options}
          onChange={(id) => setPair([id, pair[1]])}
        />
        <Select
          label="with"
          value={other.id}
          options={options}
          onChange={(id) => setPair([pair[0], id])}
        />
      </div>
      {differences.length === 0 ? (
        <p className="quiet">
          {one.id === other.id
            ? 'These are one and the same.'
            : 'They say the same in every field.'}
        </p>
      ) : (
        <table className={styles.compared}>
          <caption className="hidden">Where the two differ</caption>
          <thead>
            <tr>
              <th scope="col">Field</th>
              <th scope="col">{one.name}</th>
              <th scope="col">{other.name}</th>
            </tr>
          </thead>
          <tbody>
            {differences.map((field) => (
              <tr key={field.label}>
                <th scope="row">{field.label}</th>
                <td>{field.one}</td>
                <td>{field.other}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
