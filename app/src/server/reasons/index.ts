export {
  effectView,
  onTheWholeView,
  overTwoView,
  pairsView,
  ready,
  reasonsView,
  rulesView,
  whyView,
} from './ask.ts';
export { askWorth, forsakenWorths, worthView, worthWork } from './worth.ts';
