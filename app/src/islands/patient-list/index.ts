export { PatientDialog } from './PatientDialog.tsx';
export { apartText, scoreText } from './words.ts';
