import { patientRoutes } from '../../../../contract/patients.ts';
import { answer } from '../../../../server/door/index.ts';
import { askPatient } from '../../../../server/patients/index.ts';

/** What the candidate says of one patient. Nothing is kept. */
export const POST = answer(patientRoutes.ask, ({ ids, body }) =>
  askPatient(ids.candidate, body.values),
);
