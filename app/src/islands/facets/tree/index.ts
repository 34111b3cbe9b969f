export { TreeView } from './TreeView.tsx';
