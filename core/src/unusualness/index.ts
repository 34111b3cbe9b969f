export {
  inputsOf,
  learnUnusualness,
  unusualnessOf,
  unusualnessSchema,
  type NamedColumn,
  type Unusualness,
} from './unusualness.ts';
