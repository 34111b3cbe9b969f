export { PathView } from './PathView.tsx';
