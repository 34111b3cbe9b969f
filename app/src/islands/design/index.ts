export { stepText } from './preparation/step-text.ts';
export { thinText } from './thin-text.ts';
