/** Rows marked in several lists, as bits: row after row, a bit a list, in whole bytes. */
export function packBits(lists: Uint8Array[], rowCount: number): Uint8Array {
  const width = Math.ceil(lists.length / 8);
  const bytes = new Uint8Array(width * rowCount);
  lists.forEach((rows, i) => {
    for (let row = 0; row < rowCount; row++)
      if (rows[row]) bytes[row * width + (i >> 3)] |= 1 << (i & 7);
  });
  return bytes;
}

/** Which of the lists mark this row. */
export function bitsOf(bytes: Uint8Array, lists: number, row: number): number[] {
  const width = Math.ceil(lists / 8);
  const marked: number[] = [];
  for (let i = 0; i < lists; i++)
    if (bytes[row * width + (i >> 3)] & (1 << (i & 7))) marked.push(i);
  return marked;
}

/** Rows that any of the lists marks. */
export function countMarked(bytes: Uint8Array, lists: number): number {
  const width = Math.ceil(lists / 8);
  let count = 0;
  for (let at = 0; at < bytes.length; at += width)
    if (bytes.subarray(at, at + width).some((byte) => byte !== 0)) count++;
  return count;
}

/** Rows that each of the lists marks. */
export function countEach(bytes: Uint8Array, lists: number): number[] {
  const width = Math.ceil(lists / 8);
  return Array.from({ length: lists }, (_, i) => {
    const bit = 1 << (i & 7);
    let count = 0;
    for (let at = i >> 3; at < bytes.length; at += width) if (bytes[at] & bit) count++;
    return count;
  });
}
