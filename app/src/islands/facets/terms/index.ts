export { TermsView } from './TermsView.tsx';
