import type { Column } from '@rook-scale/core/table';

/** Rows a chunk: a page of rows reads a slice of one or two chunks, a fit reads them all. */
export const chunkRows = 32_768;

/** The chunks of a column: little-endian Float64 or Int32, or JSON lists for text. */
export function toChunks(column: Column): Buffer[] {
  const rows = column.type === 'coded' ? column.codes.length : column.values.length;
  const chunks: Buffer[] = [];
  for (let start = 0; start < rows; start += chunkRows) {
    const end = Math.min(rows, start + chunkRows);
    if (column.type === 'text')
      chunks.push(Buffer.from(JSON.stringify(column.values.slice(start, end))));
    else
      chunks.push(
        asBytes((column.type === 'number' ? column.values : column.codes).slice(start, end)),
      );
  }
  return chunks;
}

/** The column of which these are the chunks. Typed arrays are in shared memory, ready for threads. */
export function fromChunks(type: Column['type'], chunks: Buffer[], levels: string[] = []): Column {
  if (type === 'text')
    return {
      type,
      values: chunks.flatMap((chunk) => JSON.parse(chunk.toString()) as (string | null)[]),
    };
  const size = chunks.reduce((sum, chunk) => sum + chunk.length, 0);
  const shared = new SharedArrayBuffer(size);
  const all = new Uint8Array(shared);
  let at = 0;
  for (const chunk of chunks) {
    all.set(chunk, at);
    at += chunk.length;
  }
  return type === 'number'
    ? { type, values: new Float64Array(shared) }
    : { type, codes: new Int32Array(shared), levels };
}

/** Puts a column together from its chunks, in whatever order they come; typed ones in shared memory. */
export class ColumnAssembler {
  private readonly typed: Uint8Array | undefined;
  private readonly texts: (string | null)[][] = [];
  private rowsAdded = 0;

  constructor(
    private readonly type: Column['type'],
    private readonly rows: number,
    private readonly levels: string[] = [],
  ) {
    const width = bytesPerRow(type);
    this.typed = width ? new Uint8Array(new SharedArrayBuffer(rows * width)) : undefined;
  }

  add(chunkPosition: number, content: Buffer): void {
    const width = bytesPerRow(this.type);
    if (!this.typed || !width) {
      const texts = JSON.parse(content.toString()) as (string | null)[];
      this.texts[chunkPosition] = texts;
      this.rowsAdded += texts.length;
      return;
    }
    const at = chunkPosition * chunkRows * width;
    this.rowsAdded += content.length / width;
    if (at + content.length <= this.typed.length) this.typed.set(content, at);
  }

  /** Undefined when the chunks are not those of so many rows. */
  result(): Column | undefined {
    if (this.rowsAdded !== this.rows) return undefined;
    if (!this.typed) return { type: 'text', values: this.texts.flat() };
    const { buffer } = this.typed;
    return this.type === 'number'
      ? { type: 'number', values: new Float64Array(buffer) }
      : { type: 'coded', codes: new Int32Array(buffer), levels: this.levels };
  }
}

/** Bytes a row of a typed column; undefined for text. */
export function bytesPerRow(type: Column['type']): number | undefined {
  return type === 'number' ? 8 : type === 'coded' ? 4 : undefined;
}

export function asBytes(array: ArrayBufferView): Buffer {
  return Buffer.from(array.buffer as ArrayBuffer, array.byteOffset, array.byteLength);
}

/** A copy, because a Buffer from the driver may start at an address that numbers cannot. */
export function asFloats(bytes: Buffer): Float64Array {
  return new Float64Array(Uint8Array.from(bytes).buffer);
}

export function asIntegers(bytes: Buffer): Int32Array {
  return new Int32Array(Uint8Array.from(bytes).buffer);
}
