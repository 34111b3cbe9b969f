export {
  codesAmong,
  inputMeaningSchema,
  takeInputs,
  type InputMeaning,
  type Inputs,
} from './inputs.ts';
