/** A design that cannot be carried out on these patients, with a sentence for the analyst. */
export class DesignError extends Error {}
