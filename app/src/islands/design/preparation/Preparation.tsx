import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  arrangedSteps,
  fewest,
  stepOf,
  type ArrangedId,
  type ArrangedStep,
} from '@rook-scale/core/preparation';
import { display } from '@rook-scale/core/table';
import { ask } from '../../../browser/api.ts';
import { designRoutes } from '../../../contract/designs.ts';
import { Button, Select } from '../../../components/index.ts';
import type { SectionProps } from '../DesignPage.tsx';
import { KeptByName } from '../KeptByName.tsx';
import { startOf } from './fields.ts';
import { LearnedTable } from './PreparationTable.tsx';
import { recommendSteps } from './recommend.ts';
import { StepDialog } from './StepDialog.tsx';
import { StepList } from './StepList.tsx';
import { stepText } from './step-text.ts';
import { StepView } from './StepView.tsx';
import page from '../Design.module.css';
import styles from './Preparation.module.css';

/** The steps from columns to model inputs, arranged, with what the development patients taught each. */
export function Preparation({
  studyId,
  cohort,
  design,
  state,
  change,
}: SectionProps & { studyId: string }) {
  const steps = design.preparation;
  const [shown, setShown] = useState(0);
  const [edited, setEdited] = useState<{ place: number; step: ArrangedStep | ArrangedId }>();
  const [wanted, setWanted] = useState<ArrangedId>('fill');
  const [asked, setWithout] = useState(0);
  const divided = state.divisionId !== null;
  const folds = state.counts?.folds ?? [];
  const without = asked <= folds.length ? asked : 0;
  const { data: fitted } = useQuery({
    queryKey: ['preparation', studyId, state.fitKey, without],
    queryFn: () => ask(designRoutes.preparation, { study: studyId }, { query: { without } }),
    enabled: divided,
    placeholderData: (before) => before,
  });
  const entryOf = (column: string) => cohort.dictionary.find(({ name }) => name === column);
  const labelOf = (column: string) => {
    const entry = entryOf(column);
    return entry ? display(entry) : column;
  };
  const predictors = cohort.dictionary.filter(({ name }) => design.predictors.includes(name));
  const put = (next: ArrangedStep[]) => change({ preparation: next });
  const take = (step: ArrangedStep) => {
    const place = edited!.place;
    put([...steps.slice(0, place), step, ...steps.slice(place + 1)]);
    setShown(place);
    setEdited(undefined);
  };
  const advice = recommendSteps(
    predictors.map((entry) => ({
      entry,
      summary: cohort.summaries[cohort.dictionary.indexOf(entry)],
    })),
    cohort.rowCount,
    steps,
    labelOf,
  );
  return (
    <section className={page.section} id="preparation-part" aria-labelledby="preparation">
      <div className={page.head}>
        <h2 id="preparation">Preparation</h2>
        <KeptByName
          what="preparation"
          kept={design.preparations}
          isInForce={({ steps: own }) => JSON.stringify(own) === JSON.stringify(steps)}
          canKeep={steps.length > 0}
          onKeep={(name) =>
            change({
              preparations: [
                ...design.preparations.filter((one) => one.name !== name),
                { name, steps },
              ],
            })
          }
          onTake={({ steps: own }) => put(own)}
          onForget={(name) =>
            change({ preparations: design.preparations.filter((one) => one.name !== name) })
          }
        />
      </div>
      <p className="quiet">
        Learned from development patients only, anew in each fold; the fitted model carries the
        steps to every later list. The last five end every preparation: an input of its own needs{' '}
        {fewest.patients} patients, of whom at least {fewest.ofEach} differ in the outcome from the
        others.
      </p>
      {folds.length > 0 && (
        <Select
          label="Figures learned from"
          value={String(without)}
          options={[
            { value: '0', label: 'all development patients' },
            ...folds.map(({ name }, fold) => ({
              value: String(fold + 1),
              label: `all but ${name ?? `fold ${fold + 1}`}`,
            })),
          ]}
          onChange={(fold) => setWithout(Number(fold))}
        />
      )}
      <div className={styles.pair}>
        <div>
          <StepList
            steps={steps}
            shown={shown}
            labelOf={labelOf}
            onShow={setShown}
            onChange={put}
            onEdit={(place) => setEdited({ place, step: steps[place] })}
          />
          <form
            className={styles.add}
            onSubmit={(event) => {
              event.preventDefault();
              setEdited({ place: steps.length, step: wanted });
            }}
          >
            <Select
              label="Another step"
              value={wanted}
              options={arrangedSteps.map((id) => ({ value: id, label: stepOf(id).name }))}
              onChange={setWanted}
            />
            <Button type="submit">Add it</Button>
          </form>
          {advice.length > 0 && (
            <>
              <h3>Recommended</h3>
              <ul className={styles.advice}>
                {advice.map(({ step, reason }, i) => (
                  <li key={i}>
                    <strong>{stepOf(step.step).name}</strong> {stepText(step, labelOf)}
                    <p className="quiet">{reason}</p>
                    <Button
                      look="link"
                      onClick={() => {
                        put([...steps, step]);
                        setShown(steps.length);
                      }}
                    >
                      Accept
                    </Button>
                  </li>
                ))}
              </ul>
            </>
          )}
        </div>
        {fitted ? (
          <StepView
            key={shown}
            studyId={studyId}
            fitKey={state.fitKey}
            without={without}
            fitted={fitted}
            place={Math.min(shown, fitted.steps.length - 1)}
            predictors={design.predictors}
            labelOf={labelOf}
            unitOf={(column) => entryOf(column)?.unit ?? ''}
          />
        ) : (
          <p className="quiet">
            {divided
              ? 'The steps are being learned.'
              : 'The learned values appear here once the event is chosen.'}
          </p>
        )}
      </div>
      {fitted && <LearnedTable fitted={fitted} cohort={cohort} />}
      {edited && (
        <StepDialog
          step={
            typeof edited.step === 'string'
              ? { ...startOf(edited.step), step: edited.step }
              : edited.step
          }
          predictors={predictors}
          isNew={typeof edited.step === 'string'}
          onTake={take}
          onClose={() => setEdited(undefined)}
        />
      )}
    </section>
  );
}
