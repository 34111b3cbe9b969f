export { isTyping, PageBody, StagePage, useOverview } from './Frame.tsx';
export { StudyNameDialog } from './StudyNameDialog.tsx';
