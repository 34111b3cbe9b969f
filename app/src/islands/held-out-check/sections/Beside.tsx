import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { CandidateLine } from '../../../contract/candidates.ts';
import { lookRoutes, mostLookedAt, type SeveralHeldOut } from '../../../contract/looks.ts';
import { setAddress, useAddress } from '../../../browser/address.ts';
import { ask, messageOf } from '../../../browser/api.ts';
import { plural } from '../../../browser/format.ts';
import { Button, Notice } from '../../../components/index.ts';
import { ComparedFigures, DifferencesTable, drawnFrom, lettersOf } from '../../compared/index.ts';
import type { SectionProps } from './section.ts';
import styles from './Sections.module.css';

/** Other candidates on the same held-out patients, all of them as one look. */
export function Beside({ studyId, line, lines }: SectionProps) {
  const offered = lines.filter((one) => canBeBeside(one, line));
  const [asked] = useAddress('beside');
  const numbers = (asked ?? '').split('-').filter(Boolean).map(Number);
  const linked = offered.filter(({ number }) => numbers.includes(number)).map(({ id }) => id);
  const [chosen, setChosen] = useState(linked);
  const [shown, setShown] = useState<string[]>();
  // What was seen already is shown at once; any other waits to be asked for.
  const isSeen = linked.length > 0 && offered.every(({ id, seen }) => !linked.includes(id) || seen);
  const first = isSeen ? linked : undefined;
  const together = shown ?? first;
  if (offered.length === 0)
    return (
      <p className="quiet">
        No other candidate was fitted on the same patients. Fit one in Candidates first.
      </p>
    );
  const fresh = offered.filter(({ id, seen }) => chosen.includes(id) && !seen);
  const look = () => {
    const of = offered.filter(({ id }) => chosen.includes(id));
    setAddress({ beside: of.map(({ number }) => number).join('-') }, 'replace');
    setShown(of.map(({ id }) => id));
  };
  return (
    <>
      <fieldset className={styles.offered}>
        <legend>Beside {line.name}</legend>
        {offered.map(({ id, name, seen }) => (
          <label key={id}>
            <input
              type="checkbox"
              checked={chosen.includes(id)}
              disabled={!chosen.includes(id) && chosen.length >= mostLookedAt - 1}
              onChange={({ target }) =>
                setChosen(target.checked ? [...chosen, id] : chosen.filter((one) => one !== id))
              }
            />
            {name}
            {seen && <span className="quiet">seen</span>}
          </label>
        ))}
      </fieldset>
      <p className={styles.act}>
        <Button disabled={chosen.length === 0} onClick={look}>
          Look at them together
        </Button>
        <span className="quiet">
          {chosen.length === 0
            ? 'Choose who is looked at beside it. Out of fold they are compared in Candidates, without a look.'
            : fresh.length === 0
              ? 'These were seen already: opened again on the same day they count as no new look.'
              : `Counted as one look, at ${plural(chosen.length + 1, 'candidate')}.`}
        </span>
      </p>
      {together && together.length > 0 && (
        <Together key={together.join(' ')} {...{ studyId, line, lines }} others={together} />
      )}
    </>
  );
}

/** Only what was fitted on the design in force has held-out patients that are the same for all. */
const canBeBeside = (one: CandidateLine, line: CandidateLine): boolean =>
  one.id !== line.id && one.state === 'fitted' && one.results !== undefined && !one.outOfDate;

function Together({
  studyId,
  line,
  lines,
  others,
}: Pick<SectionProps, 'studyId' | 'line' | 'lines'> & { others: string[] }) {
  const all = [line, ...lines.filter(({ id }) => others.includes(id))];
  const { data, error } = useQuery({
    queryKey: [
      'held out together',
      ...all.flatMap(({ id, fittedAt, results }) => [id, fittedAt, results?.cutoff]),
    ],
    queryFn: () =>
      ask(
        lookRoutes.several,
        { study: studyId },
        { body: { candidates: all.map(({ id }) => id) } },
      ),
    staleTime: Infinity,
  });
  if (error) return <Notice>{messageOf(error)}</Notice>;
  if (!data) return <p role="status">Holding them against the same patients</p>;
  return <Found all={all} data={data} />;
}

function Found({ all, data }: { all: CandidateLine[]; data: SeveralHeldOut }) {
  return (
    <>
      <DifferencesTable
        lines={all}
        letters={lettersOf(all)}
        found={data.compared}
        who={(patients) => plural(patients, 'held-out patient')}
      />
      <ComparedFigures
        all={drawnFrom(all, data.curves)}
        kind={all[0].outcome!.choice.kind}
        whose="held out"
      />
    </>
  );
}
