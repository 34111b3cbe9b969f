export { RecalibrationView } from './RecalibrationView.tsx';
