export { effectView, reasonsView } from './ask.ts';
export { askWorth, forsakenWorths, worthView, worthWork } from './worth.ts';
