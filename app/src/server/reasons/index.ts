export { effectView, reasonsView } from './ask.ts';
export { askWorth, worthView, worthWork } from './worth.ts';
