import { families, type Family, type Settings } from '../../src/families/index.ts';
import type { OutcomeKind } from '../../src/outcome/index.ts';

/** Settings other than the first offered that change what a family is. */
const variants: Record<string, Settings[]> = {
  logistic: [{ estimates: 'reduced, true share' }],
  penalised: [{ mix: 0 }, { mix: 0.5, strengthBy: 'simplest', together: true }],
  'naive-bayes': [{ numbers: 'kernel' }],
  'nearest-patients': [
    { neighboursBy: 'given', neighbours: 7, distance: 'manhattan', votes: 'distance' },
    { neighboursBy: 'best', distance: 'gower', votes: 'kernel' },
  ],
  additive: [{ rising: ['a'], falling: ['b'] }],
  'support-vectors': [
    { shape: 'linear', sides: 'alike' },
    { shape: 'polynomial', cost: 0.1 },
  ],
  'neural-network': [{ units: 3, layers: 2, early: false, starts: 1, epochs: 20 }],
  discriminants: [{ shape: 'quadratic', round: 0.1 }],
};

/** A blend is fitted part by part, and is tested elsewhere. */
export const fittedAlone = families.filter(({ description }) => !description.composed);

/** Every family with each of its variants and kinds of outcome, named. */
export const everyFit: readonly (readonly [string, OutcomeKind, Family, Settings])[] =
  fittedAlone.flatMap((family) =>
    [{}, ...(variants[family.description.id] ?? [])].flatMap((settings) =>
      family.description.outcomes.map(
        (kind) =>
          [
            [family.description.name, ...Object.values(settings)].join(', '),
            kind,
            family,
            settings,
          ] as const,
      ),
    ),
  );
