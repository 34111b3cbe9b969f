export { LeakNotice } from './LeakNotice.tsx';
export { isLeak, useLeakNotes } from './leaks.ts';
export { useFindingNotes } from './use-finding-notes.ts';
