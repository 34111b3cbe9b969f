import { AsyncLocalStorage } from 'node:async_hooks';

const atHand = new AsyncLocalStorage<string>();

/** Does the work for the person who asked: one browser, known by the cookie that it keeps. */
export const asPerson = <T>(person: string, work: () => T): T => atHand.run(person, work);

/** Who asked for the work at hand; undefined where the product does it by itself. */
export const personAtHand = (): string | undefined => atHand.getStore();
