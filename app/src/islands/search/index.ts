export { MeasureField } from './MeasureField.tsx';
export { SearchFoot, type FoundPlan } from './SearchFoot.tsx';
export { SearchForm } from './SearchForm.tsx';
export { SearchRows } from './SearchRows.tsx';
export { SearchView } from './SearchView.tsx';
export { useSearches } from './use-search.ts';
export { durationText, kindText } from './words.ts';
