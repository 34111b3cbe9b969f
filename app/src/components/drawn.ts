/** A place in a drawing, in tenths of a unit: what is finer cannot be seen, and makes a page longer. */
export const drawn = (place: number): string => place.toFixed(1);
