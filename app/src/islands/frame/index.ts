export { DeletedDialog } from './DeletedDialog.tsx';
export { Part, Parts } from './Part.tsx';
export { PageBody, StagePage, useOverview } from './Frame.tsx';
export { StudyNameDialog } from './StudyNameDialog.tsx';
