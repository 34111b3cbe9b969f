export { useFindingNotes } from './use-finding-notes.ts';
