export {
  asBytes,
  asFloats,
  asIntegers,
  bytesPerRow,
  chunkRows,
  fromChunks,
  toChunks,
} from './column-bytes.ts';
export { readDelimited, type DelimitedFile } from './delimited.ts';
