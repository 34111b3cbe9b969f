/** A search that cannot be made, said in a sentence that can be shown. */
export class SearchError extends Error {}
