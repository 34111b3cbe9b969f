import { patientRoutes } from '../../../../contract/patients.ts';
import { answer } from '../../../../server/door/index.ts';
import { patientSheet } from '../../../../server/patients/index.ts';

/** What the candidate asks of a patient, and the usual patient's answers. */
export const GET = answer(patientRoutes.sheet, ({ ids }) => patientSheet(ids.candidate));
