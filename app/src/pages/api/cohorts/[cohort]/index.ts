import { cohortInfo } from '../../../../server/cohorts/index.ts';
import { deleteCohort } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/endpoint.ts';

export const GET = endpoint((context) => cohortInfo(readId(context, 'cohort')));

export const DELETE = endpoint((context) => deleteCohort(readId(context, 'cohort')));
