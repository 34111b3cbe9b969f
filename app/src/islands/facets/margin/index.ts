export { MarginView } from './MarginView.tsx';
