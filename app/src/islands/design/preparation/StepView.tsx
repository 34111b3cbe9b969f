import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { effectsOf, type FittedPreparation, type Shape } from '@rook-scale/core/preparation';
import { designRoutes } from '../../../contract/designs.ts';
import { ask } from '../../../browser/api.ts';
import { showCount, showValue } from '../../../browser/format.ts';
import { showDigits } from '../../../browser/numbers.ts';
import { Button, Select } from '../../../components/index.ts';
import { effectText } from './step-text.ts';
import styles from './Preparation.module.css';

interface Props {
  studyId: string;
  fitKey: string;
  /** The fold that is not learned from; 0 for none. */
  without: number;
  fitted: FittedPreparation;
  /** Of the step among all. */
  place: number;
  predictors: string[];
  labelOf: (column: string) => string;
  unitOf: (column: string) => string;
}

const fewEffects = 6;

/** What one step has done: in figures, to one column, and to one patient. */
export function StepView({
  studyId,
  fitKey,
  without,
  fitted,
  place,
  predictors,
  labelOf,
  unitOf,
}: Props) {
  const [all, setAll] = useState(false);
  const [column, setColumn] = useState<string>();
  const [patient, setPatient] = useState(0);
  const step = fitted.steps[place] as FittedPreparation['steps'][number] | undefined;
  const effects = step ? effectsOf({ steps: [step] }) : [];
  const texts = effects.map((effect) => effectText(effect, labelOf, unitOf)).filter(Boolean);
  const touched = touchedBy(effects, predictors);
  const shown = column !== undefined && predictors.includes(column) ? column : touched;
  const { data: trace } = useQuery({
    queryKey: ['step', studyId, fitKey, without, place, shown, patient],
    queryFn: () =>
      ask(
        designRoutes.step,
        { study: studyId },
        { query: { place, column: shown ?? '', patient, without } },
      ),
    enabled: step !== undefined && shown !== undefined,
    placeholderData: (before) => before,
  });
  if (!step) return null;
  return (
    <div className={styles.view}>
      <h3>What it does</h3>
      {texts.length === 0 ? (
        <p className="quiet">Nothing in these patients.</p>
      ) : (
        <ul className={styles.effects}>
          {(all ? texts : texts.slice(0, fewEffects)).map((text, i) => (
            <li key={i}>{text}</li>
          ))}
        </ul>
      )}
      {texts.length > fewEffects && (
        <p>
          <Button look="link" onClick={() => setAll(!all)}>
            {all ? 'Show fewer' : `Show all ${texts.length}`}
          </Button>
        </p>
      )}
      {shown !== undefined && (
        <Select
          label="Before and after"
          value={shown}
          options={predictors.map((name) => ({ value: name, label: labelOf(name) }))}
          onChange={setColumn}
        />
      )}
      {trace && (
        <>
          <div className={styles.shapes}>
            <ShapeFigure title="before" shape={trace.before} />
            {trace.after.length === 0 ? (
              <p className="quiet">The column ends here.</p>
            ) : (
              trace.after
                .slice(0, 3)
                .map((shape) => (
                  <ShapeFigure
                    key={shape.name}
                    title={shape.name === shown ? 'after' : labelOfMade(shape.name, labelOf)}
                    shape={shape}
                  />
                ))
            )}
          </div>
          {trace.after.length > 3 && (
            <p className="quiet">and {trace.after.length - 3} columns more</p>
          )}
          <div className={styles.who}>
            <h3>Patient {trace.who}</h3>
            <Button
              look="link"
              disabled={patient === 0}
              onClick={() => setPatient(Math.max(0, patient - 1))}
            >
              the one before
            </Button>
            <Button
              look="link"
              disabled={patient + 1 >= trace.patients}
              onClick={() => setPatient(patient + 1)}
            >
              the next
            </Button>
          </div>
          {trace.patient.length === 0 ? (
            <p className="quiet">The step changes nothing of this patient.</p>
          ) : (
            <div className={styles.patientScroll}>
              <table className={styles.patient}>
                <thead>
                  <tr>
                    <th scope="col">Column</th>
                    <th scope="col">Before</th>
                    <th scope="col">After</th>
                  </tr>
                </thead>
                <tbody>
                  {trace.patient.map(({ name, before, after }) => (
                    <tr key={name}>
                      <th scope="row">{labelOfMade(name, labelOf)}</th>
                      <td>{before ?? '–'}</td>
                      <td>{after ?? '–'}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </>
      )}
    </div>
  );
}

/** Something that a step has made is called after its columns. */
function labelOfMade(name: string, labelOf: (column: string) => string): string {
  const [, columns, rest = ''] = /^(.*?)( not known| = .*)?$/s.exec(name) ?? ['', name];
  return columns.split(', ').map(labelOf).join(', ') + rest;
}

/** The column that the step does most to. */
function touchedBy(effects: ReturnType<typeof effectsOf>, predictors: string[]) {
  const does = (effect: (typeof effects)[number]) =>
    effect.what === 'filled' ? effect.gaps : 'patients' in effect ? effect.patients : 1;
  const best = effects
    .flatMap((effect) => {
      const of = effect.what === 'made' ? effect.of[0] : effect.column;
      return predictors.includes(of) ? [{ of, does: does(effect) }] : [];
    })
    .sort((a, b) => b.does - a.does);
  return best[0]?.of ?? predictors[0];
}

/** A column's numbers as small bars, or its levels. */
function ShapeFigure({ title, shape }: { title: string; shape: Shape | undefined }) {
  if (!shape) return null;
  const known = shape.patients - shape.gaps;
  const counts =
    shape.kind === 'number' ? shape.bins : shape.levels.map(({ patients }) => patients);
  const most = Math.max(1, ...counts);
  const text =
    shape.kind === 'number'
      ? `mean ${showValue(shape.mean)}, SD ${showDigits(shape.sd, 3)}`
      : shape.levels
          .slice(0, 4)
          .map(({ level, patients }) => `${level} ${showCount(patients)}`)
          .join(', ');
  return (
    <figure>
      <figcaption>
        <strong>{title}</strong>
        <br />
        {showCount(known)} known{shape.gaps > 0 && `, ${showCount(shape.gaps)} gaps`}
      </figcaption>
      <svg
        viewBox="0 0 150 44"
        preserveAspectRatio="none"
        role="img"
        aria-label={`${title}: ${text}`}
      >
        {counts.map((count, i) => (
          <rect
            key={i}
            x={(150 * i) / counts.length}
            width={Math.max(0.5, 150 / counts.length - 1)}
            y={44 - (44 * count) / most}
            height={(44 * count) / most}
            className={styles.bin}
          />
        ))}
      </svg>
      {shape.kind === 'number' && (
        <div className={styles.ends}>
          <span>{showValue(shape.from)}</span>
          <span>{showValue(shape.to)}</span>
        </div>
      )}
      <p>{text}</p>
    </figure>
  );
}
