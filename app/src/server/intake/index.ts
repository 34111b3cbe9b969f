export { SteadyBody, withPlace } from './arrivals.ts';
export { combineUploads } from './combine.ts';
export { readColumns } from './read-columns.ts';
export { prepareReader, type Following } from './reader.ts';
export { followReading, readingProgress } from './reading-progress.ts';
export {
  forgetOldUploads,
  forgetUploads,
  keptUpload,
  readUploadAnew,
  receiveUpload,
  reviewUpload,
  uploadLimit,
} from './uploads.ts';
