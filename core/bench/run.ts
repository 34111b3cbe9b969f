import { measureCore } from './measure.ts';

// Prints JSON alone: scripts/bench.mjs puts it beside the measurements of the whole product.
console.log(JSON.stringify(measureCore()));
