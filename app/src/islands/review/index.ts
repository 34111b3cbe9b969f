export { ReviewView, type ConfirmReview } from './ReviewView.tsx';
