export { BlendTable } from './BlendTable.tsx';
