export { everybody, keepsAll, selectionSchema, type Flow, type Selection } from './selection.ts';
export { selectRows } from './select-rows.ts';
