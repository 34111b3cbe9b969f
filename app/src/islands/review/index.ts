export { ReviewView, type ConfirmReview } from './ReviewView.tsx';
export { LevelsDialog } from './LevelsDialog.tsx';
