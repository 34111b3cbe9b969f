import { measureCore } from './measure.ts';
import { measureOnThreads } from './on-threads.ts';

// Prints JSON alone: scripts/bench.mjs puts it beside the measurements of the whole product.
const onThreads = [
  'lasso path of 100 strengths with 10 inner folds, an event, 10,000 patients x 50',
  'ten steps learned and done, 100,000 patients x 40 predictors',
  'boosted trees, 100 of depth 3, 300,000 patients x 17',
  '960 random forests of 10 to 80 trees on the same bins, 160 patients x 13',
  'random forest, 50 trees, 100,000 patients x 20',
  'isolation forest of 100 trees grown, 300,000 patients x 10 scored',
  '1,000,000 patients x 17 scored by 100 trees of depth 6',
];
const results = measureCore();
for (const name of onThreads) results.push(await measureOnThreads(name));
console.log(JSON.stringify(results));
