export { everybody, keepsAll, selectionSchema, type Flow, type Selection } from './selection.ts';
export { CountError, standFor } from './stand-for.ts';
export { selectRows } from './select-rows.ts';
