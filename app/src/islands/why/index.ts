export { hasReasons } from './has-reasons.ts';
export { Why } from './Why.tsx';
