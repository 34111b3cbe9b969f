import { patientBody } from '../../../../contract/patients.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';
import { askPatient } from '../../../../server/patients/index.ts';

/** What the candidate says of one patient. Nothing is kept. */
export const POST = endpoint(async (context) => {
  const { values } = await readBody(context.request, patientBody);
  return askPatient(readId(context, 'candidate'), values);
});
