/** Something that went wrong in a way the analyst can understand and act on. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    /** What happened, what is safe, what to do. */
    readonly sentence: string,
  ) {
    super(sentence);
  }
}

export const notFound = (what: string) =>
  new Problem(404, 'not-found', `${what} is not there. It may have been deleted in another tab.`);
