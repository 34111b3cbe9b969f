import { ask } from '../../browser/api.ts';
import { studyRoutes } from '../../contract/studies.ts';
import { StudyNameDialog } from '../frame/index.ts';

/** The first page of a database without any study. */
export default function NewStudyPage() {
  const make = async (name: string) => {
    const { id } = await ask(studyRoutes.make, {}, { body: { name } });
    window.location.assign(`/studies/${id}/records`);
  };
  return (
    <main>
      <StudyNameDialog
        title="Begin with a study"
        name=""
        verb="Make the study"
        onSave={make}
        onClose={() => window.location.assign('/')}
      />
    </main>
  );
}
