/** Makes role and database where they are not there yet; gives the address for the product. */
export function ensureApplication(ownerUrl: string, secretFile: string): Promise<string>;
