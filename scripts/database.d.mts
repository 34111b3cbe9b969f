export interface Database {
  /** Address of the database, with its password. */
  url: string;
  /** Folder of the cluster and its secrets. */
  home: string;
  port: number;
  /** Leaves a cluster that was running before as it was. `immediate` is a crash. */
  stop(how?: 'fast' | 'immediate'): void;
}

/** The cluster of the product, with a role for it, watched over. */
export function startOwnDatabase(
  name?: string,
): Promise<{ url: string; ownerUrl: string; home: string; stop(): void }>;

/** @param name of the cluster, or the path of a folder to keep it in */
export function startDatabase(
  name: string,
  settings?: string[],
  wantedPort?: number,
): Promise<Database>;

/** Settings of a cluster whose data may be lost. */
export const forTests: string[];
