export {
  arrayLayoutSchema,
  ArraysError,
  packArrays,
  unpackArrays,
  type ArrayLayout,
  type NamedArrays,
} from './arrays.ts';
export { readJson, writeJson } from './json.ts';
export { stored, StoredError, type Raise, type Stored } from './stored.ts';
