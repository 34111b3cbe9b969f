export { DiscriminantsView } from './DiscriminantsView.tsx';
