export { stored, StoredError, type Raise, type Stored } from './stored.ts';
