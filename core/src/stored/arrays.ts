import * as z from 'zod';

/** Arrays of numbers that are kept as bytes, by name. */
export type NamedArrays = Record<string, Float64Array | Float32Array | Int32Array | Uint8Array>;

const kinds = {
  f8: Float64Array,
  f4: Float32Array,
  i4: Int32Array,
  u1: Uint8Array,
};

export const arrayLayoutSchema = z.array(
  z.object({
    name: z.string(),
    type: z.enum(['f8', 'f4', 'i4', 'u1']),
    length: z.number().int().min(0),
  }),
);
/** What the bytes of each array are, in their order. */
export type ArrayLayout = z.infer<typeof arrayLayoutSchema>;

export class ArraysError extends Error {}

/** One run of bytes, in the machine's order of bytes, and what they are. */
export function packArrays(arrays: NamedArrays): { layout: ArrayLayout; bytes: Uint8Array } {
  const entries = Object.entries(arrays);
  const bytes = new Uint8Array(entries.reduce((sum, [, one]) => sum + one.byteLength, 0));
  let end = 0;
  const layout = entries.map(([name, one]): ArrayLayout[number] => {
    bytes.set(new Uint8Array(one.buffer, one.byteOffset, one.byteLength), end);
    end += one.byteLength;
    return { name, type: typeOf(one), length: one.length };
  });
  return { layout, bytes };
}

/** The arrays again, bit for bit. Throws an ArraysError where the bytes are not those of the layout. */
export function unpackArrays(layout: ArrayLayout, bytes: Uint8Array): NamedArrays {
  let begin = 0;
  const arrays = layout.map(({ name, type, length }) => {
    const Kind = kinds[type];
    const end = begin + length * Kind.BYTES_PER_ELEMENT;
    if (end > bytes.byteLength) throw cutShort();
    // A copy of its own: an array must begin at a multiple of its width.
    const own = new Kind(Uint8Array.from(bytes.subarray(begin, end)).buffer);
    begin = end;
    return [name, own] as const;
  });
  if (begin !== bytes.byteLength) throw cutShort();
  return Object.fromEntries(arrays);
}

const cutShort = () => new ArraysError('The arrays of the model are cut short, or others.');

const typeOf = (one: NamedArrays[string]) =>
  (Object.keys(kinds) as (keyof typeof kinds)[]).find((type) => one instanceof kinds[type])!;
