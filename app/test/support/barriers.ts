import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import type { AxeResults, RunOptions } from 'axe-core';

const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/**
 * What keeps people from using a page, each with the first place where it is; of a whole page what is serious or
 * critical. It is looked for in the page itself, which has no frames: four times as fast as from outside.
 *
 * @param within selects the part that is looked at: all that is found there counts
 * @param targets also whether targets are large enough: of a page that is not scrolled, where none is half covered
 */
export async function barriersOf(page: Page, within?: string, targets = false): Promise<string[]> {
  await page.evaluate(source);
  const found = await page.evaluate(
    async ([selector, withTargets]) => {
      const { axe } = window as unknown as {
        axe: { run: (where: Document | string, options: RunOptions) => Promise<AxeResults> };
      };
      const { violations } = await axe.run(selector ?? document, {
        resultTypes: ['violations'],
        // WCAG 2.2, criterion 2.5.8: left out unless it is asked for.
        rules: { 'target-size': { enabled: withTargets } },
      });
      return violations.map(({ id, impact, nodes }) => ({ id, impact, html: nodes[0].html }));
    },
    [within, targets] as const,
  );
  return found
    .filter(({ impact }) => within !== undefined || impact === 'serious' || impact === 'critical')
    .map(({ id, html }) => `${id}: ${html}`);
}
