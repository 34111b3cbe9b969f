import { measureCore } from './measure.ts';
import { measureOnThreads } from './on-threads.ts';

// Prints JSON alone: scripts/bench.mjs puts it beside the measurements of the whole product.
const tenSteps = 'ten steps learned and done, 100,000 patients x 40 predictors';
console.log(JSON.stringify([...measureCore(), await measureOnThreads(tenSteps)]));
