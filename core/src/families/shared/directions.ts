import type { Outcome } from '../../outcome/index.ts';
import type { Inputs } from '../../inputs/index.ts';
import type { FitWarning } from '../family.ts';
import type { SettingField, Settings } from '../settings.ts';

/** Predictors with which the prediction may only go one way. */
export const directionFields: SettingField[] = [
  {
    name: 'rising',
    label: 'Never falls with more of',
    help: 'The risk, or the number, may only rise with these predictors, whatever the patients look like. Not for several levels.',
    further: true,
    type: 'columns',
  },
  {
    name: 'falling',
    label: 'Never rises with more of',
    help: 'The risk, or the number, may only fall with these predictors. Not for several levels.',
    further: true,
    type: 'columns',
  },
];

/** Of each input 1, -1 or 0; undefined where no direction is wanted that can be kept. */
export function directionsOf(
  { names, levels }: Inputs,
  { kind }: Outcome,
  settings: Settings,
): Int8Array | undefined {
  const [rising, falling] = [settings.rising, settings.falling] as string[][];
  const directions = Int8Array.from(names, (name, j) =>
    levels?.[j] ? 0 : Number(rising.includes(name)) - Number(falling.includes(name)),
  );
  return kind !== 'levels' && directions.some(Boolean) ? directions : undefined;
}

/** What of the directions that are wanted cannot be kept. */
export function directionWarnings(
  { names, levels }: Inputs,
  { kind }: Outcome,
  settings: Settings,
): FitWarning[] {
  const [rising, falling] = [settings.rising, settings.falling] as string[][];
  const unmet = [...rising, ...falling].filter((name) => {
    const j = names.indexOf(name);
    return kind === 'levels' || j < 0 || levels?.[j] !== undefined;
  });
  const both = rising.filter((name) => falling.includes(name));
  if (unmet.length === 0 && both.length === 0) return [];
  return [
    {
      code: 'direction not kept',
      sentence:
        kind === 'levels'
          ? 'Directions are not kept: with several levels there is no one risk to rise or fall.'
          : `No direction is kept for ${[...new Set([...unmet, ...both])].join(', ')}: ${both.length > 0 ? 'a predictor cannot be said to never rise and never fall' : 'not a number among the predictors as they are prepared'}.`,
    },
  ];
}
