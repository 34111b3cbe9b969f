export { askPatient, patientSheet } from './ask.ts';
