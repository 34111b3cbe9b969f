import { cohortInfo } from '../../../../server/cohorts/index.ts';
import { deleteCohort } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

export const GET = endpoint((context) => cohortInfo(readId(context, 'cohort')));

export const DELETE = endpoint((context) => deleteCohort(readId(context, 'cohort')));
