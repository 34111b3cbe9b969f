export { SeparationNotice } from './SeparationNotice.tsx';
