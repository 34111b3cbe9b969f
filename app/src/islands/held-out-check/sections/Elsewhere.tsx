import { useState } from 'react';
import { elsewhere, type Elsewhere as There, type Figure } from '@rook-scale/core/measures';
import { showCost, showCount, showInterval, showRate } from '../../../browser/format.ts';
import { roundDigits } from '../../../browser/numbers.ts';
import { Button, NumberField, SavedTable } from '../../../components/index.ts';
import { casesIn, type SectionProps } from './section.ts';
import { ShareFromList, type TakenShare } from './ShareFromList.tsx';
import styles from './Sections.module.css';

/** What the calls would be worth in a population with another share of cases. */
export function Elsewhere(props: SectionProps) {
  const { patients, table, costs, words } = props;
  const { events, patients: all } = patients.ranked;
  const here = roundDigits((100 * events) / all, 3);
  const [percent, setPercent] = useState<number>();
  const [taken, setTaken] = useState<TakenShare>();
  // Without two costs for all, what it would cost there cannot be told.
  const priced = costs ?? { missedCost: 0, falseAlarmCost: 0 };
  const asked = percent === undefined ? events / all : percent / 100;
  const [now, there] = [events / all, asked].map((share) =>
    share > 0 && share < 1 ? elsewhere(table, share, priced) : undefined,
  );
  if (!now)
    return <p className="quiet">One of the outcomes has nobody here, so nothing can be told.</p>;
  return (
    <>
      <p className="quiet">
        In the people to be screened another share may have {casesIn(words).case}. Cases are taken
        to be found, and others called in, as often as here.
      </p>
      <div className={styles.asked}>
        <NumberField
          label="Share of cases there"
          value={percent ?? here}
          least={0.01}
          most={99.9}
          suffix={`% (here ${here}%)`}
          onChange={(typed) => {
            setTaken(undefined);
            setPercent(typed);
          }}
        />
        <ShareFromList
          {...props}
          key={props.line.id}
          onTaken={(found) => {
            setTaken(found);
            setPercent(found.percent);
          }}
        />
        {percent !== undefined && percent !== here && (
          <Button
            look="link"
            onClick={() => {
              setTaken(undefined);
              setPercent(undefined);
            }}
          >
            As here
          </Button>
        )}
      </div>
      {taken && <p>{taken.says}</p>}
      <SavedTable fileName="predictive-values-elsewhere">
        <table className={styles.table} aria-labelledby="elsewhere-name">
          <thead>
            <tr>
              <th scope="col">Of 1,000 patients</th>
              <th scope="col">Here, {here}%</th>
              <th scope="col">There, {percent ?? here}%</th>
              <th scope="col">95% interval there</th>
            </tr>
          </thead>
          <tbody>
            {rows(costs !== undefined).map(({ name, of }) => {
              const [one, other] = [of(now), there && of(there)];
              return (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  <td>{one.text}</td>
                  <td className={styles.value}>{other?.text ?? '–'}</td>
                  <td>{other?.interval ?? ''}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </SavedTable>
      {there && costs && <p>{verdict(there)}</p>}
    </>
  );
}

interface Cell {
  text: string;
  interval?: string;
}

const figure = (one: Figure): Cell => ({
  text: showRate(one),
  interval: showInterval(one.interval),
});
const count = (one: number): Cell => ({ text: showCount(Math.round(one)) });
const cost = (one: number): Cell => ({ text: showCost(one) });

const rows = (hasCosts: boolean): { name: string; of: (one: There) => Cell }[] => [
  { name: 'Positive predictive value', of: (one) => figure(one.positivePredictiveValue) },
  { name: 'Negative predictive value', of: (one) => figure(one.negativePredictiveValue) },
  { name: 'Called in', of: ({ calledIn }) => count(calledIn) },
  { name: 'Called in for nothing', of: ({ falseAlarms }) => count(falseAlarms) },
  { name: 'Cases found', of: ({ found }) => count(found) },
  { name: 'Cases missed', of: ({ missed }) => count(missed) },
  ...(hasCosts
    ? [
        { name: 'Cost of the errors', of: (one: There) => cost(one.cost) },
        {
          name: 'Cost of the cheaper of calling all and none',
          of: ({ reference }: There) => cost(reference),
        },
      ]
    : []),
];

const verdict = ({ cost: own, reference }: There) =>
  own < reference
    ? `There the errors at this cutoff would cost ${showCost(own)} per 1,000, ${showCost(reference - own)} less than giving all the same call.`
    : `There the errors at this cutoff would cost ${showCost(own)} per 1,000, ${showCost(own - reference)} more than giving all the same call: another cutoff is needed there.`;
