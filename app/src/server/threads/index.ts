export { Pool } from './pool.ts';
export { serve } from './serve.ts';
export { onThread, type WebWorks } from './web-threads.ts';
