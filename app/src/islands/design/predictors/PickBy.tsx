import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { display, isCoded } from '@rook-scale/core/table';
import { cohortRoutes } from '../../../contract/cohorts.ts';
import { ask } from '../../../browser/api.ts';
import { plural } from '../../../browser/format.ts';
import { Button, NumberField, Select } from '../../../components/index.ts';
import { closeness, type Offered } from './offered.ts';
import styles from './Predictors.module.css';

interface Props {
  studyId: string;
  offered: Offered[];
  onPick: (names: string[]) => void;
}

type Way = 'numbers' | 'levels' | 'gaps' | 'relation' | 'list';

const ways: { value: Way; label: string }[] = [
  { value: 'list', label: 'what a later list has' },
  { value: 'gaps', label: 'few gaps' },
  { value: 'relation', label: 'relation to the outcome' },
  { value: 'numbers', label: 'kind: numbers' },
  { value: 'levels', label: 'kind: levels' },
];

/** Predictors picked by what they are, in one act; what would be taken is said before. */
export function PickBy({ studyId, offered, onPick }: Props) {
  const [open, setOpen] = useState(false);
  const [way, setWay] = useState<Way>('list');
  const [most, setMost] = useState(20);
  const [least, setLeast] = useState(0.2);
  const [list, setList] = useState<string>();
  const { data: lists = [] } = useQuery({
    queryKey: ['lists', studyId],
    queryFn: () => ask(cohortRoutes.lists, { study: studyId }),
    enabled: open,
  });
  if (!open)
    return (
      <p>
        <Button look="link" onClick={() => setOpen(true)}>
          Pick by kind, gaps, relation, or what a later list has
        </Button>
      </p>
    );
  const cohort = lists.find(({ id }) => id === list) ?? lists[0];
  const has = new Set(cohort?.dictionary.map(({ name }) => name));
  const wanted: { [One in Way]: (one: Offered) => boolean } = {
    numbers: ({ entry }) => !isCoded(entry.kind),
    levels: ({ entry }) => isCoded(entry.kind),
    gaps: ({ missing }) => missing <= most / 100,
    relation: ({ relation }) => relation !== undefined && closeness(relation) >= least,
    list: ({ entry }) =>
      has.has(entry.name) || (entry.formula !== undefined && cohort !== undefined),
  };
  const picked = offered.filter(wanted[way]);
  const others = offered.filter((one) => !picked.includes(one));
  const names = (some: Offered[]) =>
    some
      .slice(0, 8)
      .map(({ entry }) => display(entry))
      .join(', ') + (some.length > 8 ? ` and ${some.length - 8} more` : '');
  return (
    <div className={styles.pick} role="group" aria-label="Pick predictors">
      <Select label="Pick by" value={way} options={ways} onChange={setWay} />
      {way === 'gaps' && (
        <NumberField
          label="Not known in at most"
          value={most}
          least={0}
          most={100}
          suffix="%"
          onChange={setMost}
        />
      )}
      {way === 'relation' && (
        <NumberField
          label="Strength of at least (0 to 1)"
          value={least}
          least={0}
          most={1}
          onChange={setLeast}
        />
      )}
      {way === 'list' && lists.length > 0 && (
        <Select
          label="List"
          value={cohort?.id ?? ''}
          options={lists.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setList}
        />
      )}
      {way === 'list' && lists.length === 0 ? (
        <p className="quiet">There is no later list yet: bring one in at Screening.</p>
      ) : (
        <p>
          {plural(picked.length, 'column')} of {offered.length}.
          {others.length > 0 && ` Without: ${names(others)}.`}
          {way === 'list' &&
            ' Columns are compared by name; what stands under another name can be matched in Screening.'}
          {way === 'relation' &&
            ' Development patients choose here, so out-of-fold figures become a little too good; held-out ones do not.'}
        </p>
      )}
      <div className={styles.acts}>
        <Button
          disabled={picked.length === 0}
          onClick={() => {
            onPick(picked.map(({ entry }) => entry.name));
            setOpen(false);
          }}
        >
          Take these
        </Button>
        <Button look="link" onClick={() => setOpen(false)}>
          Leave it
        </Button>
      </div>
    </div>
  );
}
