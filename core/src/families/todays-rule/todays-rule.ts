import * as z from 'zod';
import {
  numbersOf,
  widthOf,
  type Outcome,
  type OutcomeKind,
  type Predictions,
} from '../../outcome/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import { FitObstacle, type Family, type Fitted } from '../family.ts';
import { reference } from '../reference/index.ts';
import type { RuleSummary } from '../facets.ts';
import { todaysRule as description } from './description.ts';
import { ruleObstacle, type Given } from './rule-obstacle.ts';

const savedSchema = z.object({
  /** What is said of a patient whose rule gives nothing: what the reference candidate says. */
  usual: z.unknown(),
  kind: z.enum(['event', 'levels', 'number']),
  levels: z.array(z.string()).optional(),
});

/** A column or formula of the analyst's, taken as the prediction. Its one input is what that gives. */
export const todaysRule: Family = {
  description,

  fit(inputs, outcome, { formula }, context) {
    const levels = outcome.kind === 'levels' ? outcome.levels : undefined;
    if (inputs.columns.length !== 1) throw new Error('A rule gives one column.');
    const why = ruleObstacle(givenBy(inputs), { kind: outcome.kind, levels });
    if (why) throw new FitObstacle(why);
    const usual = reference.fit(inputs, outcome, {}, context).fitted;
    const unknown = inputs.columns[0].reduce(
      (sum, value) => sum + Number(!Number.isFinite(value)),
      0,
    );
    return {
      fitted: fitted(outcome.kind, usual, levels),
      warnings:
        unknown > 0
          ? [
              {
                code: 'rule gives nothing',
                sentence: `For ${unknown} of ${inputs.rowCount} patients the rule gives nothing, because something it reads is not known. They are judged as the reference candidate would; in a list such patients are not scored.`,
              },
            ]
          : [],
      describe: () => ({
        facets: [
          {
            kind: 'rule',
            value: {
              formula: String(formula),
              answers: answersOf(inputs, outcome, context.weights),
            },
          },
        ],
        warnings: [],
      }),
    };
  },

  revive({ json }) {
    const { kind, usual, levels } = savedSchema.parse(json);
    return fitted(kind, reference.revive({ version: 1, json: usual, arrays: {} }), levels);
  },
};

function fitted(kind: OutcomeKind, usual: Fitted, levels: string[] | undefined): Fitted {
  return {
    predict(inputs) {
      const predictions = usual.predict(inputs);
      sayers[kind](inputs, predictions, levels ?? []);
      return predictions;
    },
    save: () => ({
      version: 1,
      json: { usual: usual.save().json, kind, ...(levels && { levels }) },
      arrays: {},
    }),
  };
}

/** Puts what the rule says in the place of what is usual, where it says something. */
const sayers: {
  [K in OutcomeKind]: (inputs: Inputs, predictions: Predictions, levels: string[]) => void;
} = {
  event({ columns: [column], levels: [names] = [] }, predictions) {
    const risks = numbersOf(predictions);
    const yes = names?.indexOf('yes');
    column.forEach((value, i) => {
      if (Number.isFinite(value)) risks[i] = yes === undefined ? value : Number(value === yes);
    });
  },
  levels({ columns: [column], levels: [names = []] = [] }, predictions, levels) {
    const shares = numbersOf(predictions);
    const width = widthOf(predictions);
    const places = names.map((name) => levels.indexOf(name));
    column.forEach((code, i) => {
      if (isNaN(code) || places[code] < 0) return;
      shares.fill(0, i * width, (i + 1) * width);
      shares[i * width + places[code]] = 1;
    });
  },
  number({ columns: [column] }, predictions) {
    const values = numbersOf(predictions);
    column.forEach((value, i) => {
      if (Number.isFinite(value)) values[i] = value;
    });
  },
};

function givenBy({ columns: [column], levels }: Inputs): Given {
  const names = levels?.[0];
  const known = column.filter((value) => Number.isFinite(value));
  if (names) return { type: 'coded', levels: [...new Set(known)].map((code) => names[code]) };
  let [least, greatest] = [Infinity, -Infinity];
  for (const value of known) {
    if (value < least) least = value;
    if (value > greatest) greatest = value;
  }
  return { type: 'number', ...(known.length > 0 && { range: [least, greatest] }) };
}

/** How many patients each answer was given for, and of yes/no outcomes how many of them have the event. */
function answersOf(
  { columns: [column], levels }: Inputs,
  outcome: Outcome,
  weights: Float64Array | undefined,
): RuleSummary['answers'] {
  const names = levels?.[0];
  if (!names) return [];
  const counts = names.map(() => ({ patients: 0, events: 0 }));
  column.forEach((code, row) => {
    if (!Number.isFinite(code)) return;
    const weight = weights ? weights[row] : 1;
    counts[code].patients += weight;
    if (outcome.values[row] === 1) counts[code].events += weight;
  });
  return names.flatMap((answer, code) => {
    const { patients, events } = counts[code];
    if (patients === 0) return [];
    return [{ answer, patients, ...(outcome.kind === 'event' && { events }) }];
  });
}
