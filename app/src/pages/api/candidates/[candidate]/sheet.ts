import { endpoint, readId } from '../../../../server/door/index.ts';
import { patientSheet } from '../../../../server/patients/index.ts';

/** What the candidate asks of a patient, and the usual patient's answers. */
export const GET = endpoint((context) => patientSheet(readId(context, 'candidate')));
