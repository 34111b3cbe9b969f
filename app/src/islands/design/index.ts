export { thinText } from './thin-text.ts';
