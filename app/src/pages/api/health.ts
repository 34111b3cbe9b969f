import { endpoint } from '../../server/endpoint.ts';

export const GET = endpoint(() => Promise.resolve({ ready: true }));
