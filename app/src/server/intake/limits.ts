/** Memory for the cells of files just read, in bytes. */
export const cellMemory = 200_000_000;

/** Memory that reading one file may take, in MB, besides the numbers it gives. */
export const readingMemory = 1024;

/** Milliseconds that reading a file may take: a while for any, and more for a large one. */
export const readingTime = (bytes: number) => 30_000 + bytes / 1000;
