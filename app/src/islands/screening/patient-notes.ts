import type { PatientValues } from '@rook-scale/core/screening';
import { display } from '@rook-scale/core/table';
import { plural, showValue } from '../../browser/format.ts';
import type { PatientAnswer, PatientSheet } from '../../contract/patients.ts';
import type { MarginNote } from '../margin/index.ts';
import { unfamiliarText } from './TooLittleDialog.tsx';

/** What makes the risk of this patient less sure. */
export function patientNotes(
  { predictors, outcome }: PatientSheet,
  values: PatientValues,
  answer: PatientAnswer | undefined,
  byRule: boolean,
): MarginNote[] {
  if (byRule)
    return [
      {
        id: 'rule',
        standing: true,
        title: 'What a rule says',
        text: 'What you wrote, taken as it is: it learned from nobody. A yes is a call, not a risk of 1.',
      },
    ];
  const isNumber = outcome.choice.kind === 'number';
  const notes: MarginNote[] = [];
  const outside = predictors.filter(({ name, range }) => {
    const value = values[name];
    return range && typeof value === 'number' && (value < range[0] || value > range[1]);
  });
  if (outside.length > 0)
    notes.push({
      id: 'outside',
      standing: true,
      title: 'Beyond what the model has seen',
      text: `${outside.map((one) => `${display(one)}: development patients had ${one.range!.map(showValue).join(' to ')}${one.unit ? ` ${one.unit}` : ''}`).join('; ')}. What the model says is carried on from there.`,
    });
  const strange = answer?.unfamiliar ?? [];
  if (strange.length > 0)
    notes.push({
      id: 'too little',
      standing: true,
      title: `This ${isNumber ? 'prediction' : 'risk'} rests on too little`,
      text: `${strange.map((one) => unfamiliarText({ ...one, range: predictors.find(({ name }) => name === one.name)?.range }, one.what)).join('; ')}: no or hardly any development patient had that. Judge this patient without the model.`,
    });
  const unknown = predictors.filter(({ name }) => values[name] === null);
  if (unknown.length > 0)
    notes.push({
      id: 'unknown',
      standing: true,
      title: `${plural(unknown.length, 'value')} not known`,
      text: `${unknown.map(display).join(', ')}: filled with what was usual among development patients, as the preparation says.`,
    });
  notes.push({
    id: 'one risk',
    standing: true,
    title: isNumber ? 'What a prediction is' : 'What a risk is',
    text: `${isNumber ? 'The mean' : 'A share'} among many patients like this one, not a verdict on one. The curves say what the model would say of another patient, not what a treatment would do.`,
  });
  return notes;
}
