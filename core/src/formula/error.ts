/** A formula that cannot be understood, with where in its text. */
export class FormulaError extends Error {
  constructor(
    message: string,
    /** First character concerned, from 0. */
    readonly from: number,
    /** Behind the last character concerned. */
    readonly to: number,
  ) {
    super(message);
  }
}
