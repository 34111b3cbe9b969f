export {
  asBytes,
  asFloats,
  asIntegers,
  bytesPerRow,
  chunkRows,
  ColumnAssembler,
  fromChunk,
  toChunks,
} from './column-bytes.ts';
export { readDelimited } from './delimited.ts';
export {
  formatOf,
  readTableFile,
  sniffFormat,
  type KeptFile,
  type TableRead,
} from './table-file.ts';
export { type RowReader } from './table-feed.ts';
export { type Encoding } from './decode.ts';
export type { Frame, FromApart, ToApart } from './apart-protocol.ts';
