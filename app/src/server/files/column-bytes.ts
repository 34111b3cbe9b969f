import type { Column } from '@rook-scale/core/table';

/** Rows a chunk of numbers or codes: a page of rows reads a slice of one or two, a fit reads them all. */
export const chunkRows = 32_768;

/** Characters a chunk of texts, about: long ones must not make it too large to be read again. */
const chunkCharacters = 1_000_000;

export interface ColumnChunk {
  /** Row of the file that it begins with. */
  firstRow: number;
  content: Buffer;
}

/** The chunks of a column: little-endian Float64 or Int32, or JSON lists for text. */
export function toChunks(column: Column): ColumnChunk[] {
  if (column.type === 'text') return textChunks(column.values);
  const array = column.type === 'number' ? column.values : column.codes;
  const chunks: ColumnChunk[] = [];
  for (let firstRow = 0; firstRow < array.length; firstRow += chunkRows)
    chunks.push({ firstRow, content: asBytes(array.slice(firstRow, firstRow + chunkRows)) });
  return chunks;
}

function textChunks(values: readonly (string | null)[]): ColumnChunk[] {
  const chunks: ColumnChunk[] = [];
  let firstRow = 0;
  let characters = 0;
  const end = (row: number) => {
    chunks.push({ firstRow, content: Buffer.from(JSON.stringify(values.slice(firstRow, row))) });
    firstRow = row;
    characters = 0;
  };
  values.forEach((value, row) => {
    characters += (value?.length ?? 0) + 4;
    if (characters >= chunkCharacters || row - firstRow >= chunkRows - 1) end(row + 1);
  });
  if (firstRow < values.length) end(values.length);
  return chunks;
}

/** The rows of one chunk, or of a slice of it. */
export function fromChunk(type: Column['type'], chunk: Buffer, levels: string[] = []): Column {
  if (type === 'text') return { type, values: textsIn(chunk) };
  // A copy, because a Buffer from the driver may start at an address that numbers cannot.
  return typedColumn(type, Uint8Array.from(chunk).buffer, levels);
}

const textsIn = (chunk: Buffer) => JSON.parse(chunk.toString()) as (string | null)[];

function typedColumn(type: 'number' | 'coded', bytes: ArrayBufferLike, levels: string[]): Column {
  return type === 'number'
    ? { type, values: new Float64Array(bytes) }
    : { type, codes: new Int32Array(bytes), levels };
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

  add(chunkPosition: number, firstRow: number, content: Buffer): void {
    const width = bytesPerRow(this.type);
    if (!this.typed || !width) {
      const texts = textsIn(content);
      this.texts[chunkPosition] = texts;
      this.rowsAdded += texts.length;
      return;
    }
    const at = firstRow * width;
    this.rowsAdded += content.length / width;
    if (at + content.length <= this.typed.length) this.typed.set(content, at);
  }

  /** Undefined when the chunks are not those of so many rows. */
  result(): Column | undefined {
    if (this.rowsAdded !== this.rows) return undefined;
    return this.type === 'text' || !this.typed
      ? { type: 'text', values: this.texts.flat() }
      : typedColumn(this.type, this.typed.buffer, this.levels);
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
