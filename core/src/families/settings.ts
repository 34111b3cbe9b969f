import * as z from 'zod';

/** One setting of a family: everything the interface needs to ask for it. */
export type SettingField = {
  name: string;
  label: string;
  /** What it does, in one sentence. */
  help: string;
  /** Asked for only where another setting has this value. */
  when?: { setting: string; value: string };
  /** Rarely changed: asked for behind the others. */
  further?: true;
} & (
  | {
      type: 'number';
      least: number;
      most: number;
      step: number;
      whole: boolean;
      default: number;
      /** Which values make a simpler model; absent where neither does. */
      simpler?: 'low' | 'high';
    }
  | { type: 'choice'; options: { value: string; label: string }[]; default: string }
  | { type: 'switch'; default: boolean }
  | { type: 'formula' }
  /** Names of predictors that are numbers. */
  | { type: 'columns' }
);

export type Settings = Record<string, number | string | boolean | string[]>;

/**
 * Validates the settings of a family and fills in what is left out. A setting that the family does not have is
 * refused: under a misspelt name the default would be used instead.
 */
export function settingsSchema(fields: SettingField[]) {
  return z.strictObject(shapeOf(fields), {
    error: (issue) =>
      issue.code === 'unrecognized_keys'
        ? `There is no setting ${issue.keys.map((name) => `“${name}”`).join(', ')}. The settings are ${fields.map(({ name }) => name).join(', ')}.`
        : undefined,
  });
}

/** Settings of a fit that was asked for before: those that the family has today, the others at their defaults. */
export const keptSettings = (fields: SettingField[], settings: Settings): Settings =>
  z.object(shapeOf(fields)).parse(settings);

const shapeOf = (fields: SettingField[]) =>
  Object.fromEntries(fields.map((field) => [field.name, fieldSchema(field)]));

function fieldSchema(field: SettingField) {
  if (field.type === 'formula')
    return z
      .string()
      .trim()
      .min(1, `${field.label}: choose a column, or write a formula.`)
      .max(4000, 'A formula has at most 4,000 characters.');
  if (field.type === 'columns') return z.array(z.string()).max(1000).default([]);
  if (field.type === 'switch') return z.boolean().default(field.default);
  if (field.type === 'choice') {
    const values = field.options.map((option) => option.value);
    return z
      .string()
      .refine((value) => values.includes(value), `${field.label}: choose one of the options.`)
      .default(field.default);
  }
  const range = `${field.label}: from ${field.least} to ${field.most}.`;
  const number = z.number({ error: range }).min(field.least, range).max(field.most, range);
  const whole = field.whole ? number.int(`${field.label}: a whole number.`) : number;
  return whole.default(field.default);
}
