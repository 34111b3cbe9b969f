import { familyOf } from '../families/index.ts';
import { columnReferences } from '../formula/index.ts';
import { readsColumn, type InputMeaning } from '../preparation/index.ts';
import type { DictionaryEntry } from '../table/index.ts';
import type { Model, ModelPredictor } from '../model/index.ts';

/**
 * What is asked of a patient: the predictors that are not derived, and what the derived ones are
 * worked out from.
 */
export function modelInputs(model: Pick<Model, 'predictors' | 'sources'>): ModelPredictor[] {
  return [...model.predictors, ...model.sources].filter(({ formula }) => formula === undefined);
}

/** The inputs that a model looks at at all: a gap in another changes nothing. */
export function inputsRead({ preparation: { inputs }, family }: Model): InputMeaning[] {
  const read = familyOf(family.id).reads?.(
    family.saved,
    inputs.map(({ name }) => name),
  );
  return read ? inputs.filter(({ name }) => read.includes(name)) : inputs;
}

/** Predictors that have a part in what the model predicts: the columns behind the inputs that it looks at. */
export function usedPredictors(model: Model): Set<string> {
  const { preparation, family, predictors } = model;
  const names = predictors.map(({ name }) => name);
  if (familyOf(family.id).description.fixed) return new Set(names);
  const read = familyOf(family.id).reads?.(
    family.saved,
    preparation.inputs.map(({ name }) => name),
  );
  if (!read) return new Set(names);
  const inputs = preparation.inputs.filter(({ name }) => read.includes(name));
  return new Set(
    names.filter((name) => read.includes(name) || inputs.some((input) => readsColumn(input, name))),
  );
}

/** What is asked of a patient for one predictor: itself, or what a derived one is worked out from. */
export function inputsBehind(
  model: Pick<Model, 'predictors' | 'sources'>,
  name: string,
): ModelPredictor[] {
  const entries = [...model.predictors, ...model.sources].map((one) => ({
    ...one,
    role: 'predictor' as const,
  }));
  const read = new Set([name, ...sourcesOf([name], entries)]);
  return modelInputs(model).filter((input) => read.has(input.name));
}

/** The derived columns of a model, each after those that it reads. */
export function derivedInOrder(model: Model): ModelPredictor[] {
  const derived = [...model.sources, ...model.predictors].filter(({ formula }) => formula);
  const placed: ModelPredictor[] = [];
  const place = (one: ModelPredictor) => {
    if (placed.includes(one)) return;
    const reads = new Set(columnReferences(one.formula!));
    for (const other of derived) if (other !== one && reads.has(other.name)) place(other);
    placed.push(one);
  };
  derived.forEach(place);
  return placed;
}

/** Names of the columns that these derived columns are worked out from, but which are not among `names`. */
export function sourcesOf(names: string[], dictionary: DictionaryEntry[]): string[] {
  const byName = new Map(dictionary.map((entry) => [entry.name, entry]));
  const found = new Set<string>();
  const look = (name: string) => {
    const formula = byName.get(name)?.formula;
    if (formula === undefined) return;
    for (const read of columnReferences(formula)) {
      if (found.has(read)) continue;
      found.add(read);
      look(read);
    }
  };
  names.forEach(look);
  return dictionary
    .map(({ name }) => name)
    .filter((name) => found.has(name) && !names.includes(name));
}
