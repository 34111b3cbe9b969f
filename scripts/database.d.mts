export interface Database {
  /** Address of the database, with its password. */
  url: string;
  /** Leaves a cluster that was running before as it was. `immediate` is a crash. */
  stop(how?: 'fast' | 'immediate'): void;
}

export function startDatabase(name: string, settings?: string[]): Promise<Database>;
