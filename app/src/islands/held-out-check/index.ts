export { ErrorTableView } from './ErrorTableView.tsx';
