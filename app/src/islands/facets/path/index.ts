export { PathView } from './PathView.tsx';
export { nameOfWay } from './path-words.ts';
