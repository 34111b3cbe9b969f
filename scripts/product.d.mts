export interface Supervised {
  readonly pid: number;
  stop(): Promise<void>;
}

export interface Product {
  /** Where the web server answers. */
  address: string;
  web: Supervised;
  workers: Supervised[];
  /** What a start does to the database, once more: schema, demo study, clearing away. */
  setUp(): Promise<void>;
  stop(): Promise<void>;
}

export function startProduct(options: {
  databaseUrl: string;
  demo?: boolean;
  firstPort?: number;
  workers?: number;
  web?: boolean;
  env?: Record<string, string>;
}): Promise<Product>;
