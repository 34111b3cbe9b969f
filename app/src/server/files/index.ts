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
export { encodings, type Encoding } from './decode.ts';
export { delimiters, readingSchema, type Reading, type Remark } from './reading.ts';
