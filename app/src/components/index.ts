export { Button } from './Button.tsx';
export { ChartFrame, type LineConfiguration } from './ChartFrame.tsx';
export { Dialog, DialogActions } from './Dialog.tsx';
export { Field } from './Field.tsx';
export { FileDrop } from './FileDrop.tsx';
export { IntervalStrip } from './IntervalStrip.tsx';
export { Notice } from './Notice.tsx';
export { Progress } from './Progress.tsx';
export { VirtualTable, type VirtualColumn } from './VirtualTable.tsx';
