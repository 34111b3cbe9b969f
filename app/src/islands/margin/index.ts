export { Margin, type MarginNote, type NoteAct } from './Margin.tsx';
