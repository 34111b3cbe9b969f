import { AsyncLocalStorage } from 'node:async_hooks';

/** What a person may be asked before it is done. */
export const consents = ['move seen patients', 'lose cells'] as const;
export type Consent = (typeof consents)[number];

interface Asking {
  person: string;
  /** What they agreed to with this request. */
  agreed: ReadonlySet<string>;
}

const atHand = new AsyncLocalStorage<Asking>();

/**
 * Does the work for the person who asked: one browser, known by the cookie that it keeps.
 *
 * @param agreed what they agreed to, separated by commas
 */
export const asPerson = <T>(person: string, agreed: string | null, work: () => T): T =>
  atHand.run({ person, agreed: new Set(agreed?.split(',').map((one) => one.trim())) }, work);

/** Who asked for the work at hand; undefined where the product does it by itself. */
export const personAtHand = (): string | undefined => atHand.getStore()?.person;

/** Whether whoever asked agreed to it; the product by itself is not asked. */
export const hasAgreed = (to: Consent): boolean => atHand.getStore()?.agreed.has(to) ?? true;
