export { canBeDrawn, useDrawn, type Drawn } from './use-drawn.ts';
export { SideBySide } from './SideBySide.tsx';
