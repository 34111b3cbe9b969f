import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type SyntheticEvent } from 'react';
import { display } from '@rook-scale/core/table';
import { designRoutes, type DesignVersion } from '../../../contract/designs.ts';
import { ask } from '../../../browser/api.ts';
import { plural, showMoment } from '../../../browser/format.ts';
import { toast, toastError } from '../../../browser/toast.ts';
import { Button } from '../../../components/index.ts';
import type { SectionProps } from '../DesignPage.tsx';
import { CompareVersions } from './CompareVersions.tsx';
import { differencesBetween } from './design-fields.ts';
import page from '../Design.module.css';
import styles from './Versions.module.css';

/** Designs kept under names: compared field by field, put in force again, forgotten. */
export function Versions({ studyId, cohort, design, change }: SectionProps & { studyId: string }) {
  const client = useQueryClient();
  const { data: versions, isError } = useQuery({
    queryKey: ['versions', studyId],
    queryFn: () => ask(designRoutes.versions, { study: studyId }),
  });
  const [name, setName] = useState('');
  const study = { study: studyId };
  const labelOf = (column: string) => {
    const entry = cohort.dictionary.find((one) => one.name === column);
    return entry ? display(entry) : column;
  };
  const carryOut = async (asking: Promise<unknown>) => {
    try {
      await asking;
      await client.invalidateQueries({ queryKey: ['versions', studyId] });
      return true;
    } catch (error) {
      toastError(error);
      return false;
    }
  };
  const keep = async (wanted: Pick<DesignVersion, 'name' | 'choices'>) =>
    carryOut(ask(designRoutes.keepVersion, study, { body: wanted }));
  const submit = async (event: SyntheticEvent) => {
    event.preventDefault();
    if (name.trim() && (await keep({ name: name.trim(), choices: design }))) setName('');
  };
  const forget = async (version: DesignVersion) => {
    if (!(await carryOut(ask(designRoutes.forgetVersion, study, { body: { id: version.id } }))))
      return;
    toast(`${version.name} is forgotten`, { label: 'Undo', run: () => void keep(version) });
  };
  // What is kept beside the design stays, so that no candidate loses what it was fitted on.
  const take = ({ choices }: DesignVersion) =>
    change({
      ...choices,
      predictorSets: design.predictorSets,
      preparations: design.preparations,
    });
  return (
    <section className={page.section} aria-labelledby="versions">
      <h2 id="versions">Versions</h2>
      <form className={styles.keep} onSubmit={(event) => void submit(event)}>
        <label>
          Keep this design as{' '}
          <input
            value={name}
            maxLength={60}
            placeholder="a name"
            onChange={({ target }) => setName(target.value)}
          />
        </label>
        <Button type="submit" disabled={name.trim() === ''}>
          Keep
        </Button>
      </form>
      {isError && <p className="quiet">The versions did not come; reload the page to try again.</p>}
      {versions?.length === 0 && (
        <p className="quiet">
          Nothing is kept yet. A kept version can be compared field by field, and put in force again
          with one act.
        </p>
      )}
      {versions && versions.length > 0 && (
        <>
          <table className={styles.versions}>
            <thead>
              <tr>
                <th scope="col">Version</th>
                <th scope="col">Kept</th>
                <th scope="col">Beside the design in force</th>
                <th scope="col">
                  <span className="hidden">Acts</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {versions.map((version) => {
                const count = differencesBetween(version.choices, design, labelOf).length;
                return (
                  <tr key={version.id}>
                    <th scope="row">{version.name}</th>
                    <td>{showMoment(version.at)}</td>
                    <td>
                      {count === 0
                        ? 'the same'
                        : `${plural(count, 'field')} differ${count === 1 ? 's' : ''}`}
                    </td>
                    <td>
                      <Button look="link" disabled={count === 0} onClick={() => take(version)}>
                        Put in force
                      </Button>{' '}
                      <Button
                        look="link"
                        aria-label={`Forget ${version.name}`}
                        onClick={() => void forget(version)}
                      >
                        Forget
                      </Button>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <CompareVersions versions={versions} design={design} labelOf={labelOf} />
        </>
      )}
    </section>
  );
}
