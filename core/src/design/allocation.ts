/** Who stands where, by identifier, as a file says it. */
export interface Allocation {
  patients: {
    identifier: string;
    side: 'development' | 'heldOut' | 'sealed';
    /** From 1; of development patients, where the file says so. */
    fold?: number;
  }[];
}
