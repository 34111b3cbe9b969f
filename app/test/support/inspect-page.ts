import type { Page } from '@playwright/test';

/** What is wrong with a page as it stands: words that are no words, text that does not fit, marks outside. */
export function faultsOf(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const faults: string[] = [];
    const say = (what: string, element: Element) => {
      const text = (element.textContent ?? '').trim().replace(/\s+/g, ' ').slice(0, 60);
      const id = element.getAttribute('aria-label') ?? '';
      const where = `${element.tagName.toLowerCase()}.${(element.getAttribute('class') ?? '').split(' ')[0]}`;
      faults.push(`${what}: ${where} ${id} "${text}"`);
    };
    const visible = (element: Element) => {
      const box = element.getBoundingClientRect();
      return (
        box.width > 0 &&
        box.height > 0 &&
        (element as HTMLElement).checkVisibility({
          opacityProperty: true,
          visibilityProperty: true,
        })
      );
    };
    const hidden = (element: Element) => element.closest('.hidden') !== null;

    const broken = document.body.innerText.match(
      /could not be drawn|\bNaN\b|\bundefined\b|\bInfinity\b|\[object|(^|\s)null(?! deviance)(\s|$)/m,
    );
    if (broken) faults.push(`a word that is none: ${broken[0].trim()}`);

    if (document.documentElement.scrollWidth > window.innerWidth)
      faults.push(
        `wider than the window by ${document.documentElement.scrollWidth - window.innerWidth}`,
      );

    // Text in its box. A title says in full what is cut with an ellipsis.
    for (const element of document.querySelectorAll<HTMLElement>('body *')) {
      const own = [...element.childNodes].some(
        (node) => node.nodeType === 3 && (node.textContent ?? '').trim() !== '',
      );
      if (!own || element.closest('svg') || hidden(element) || !visible(element)) continue;
      if (['SCRIPT', 'STYLE', 'OPTION', 'TEXTAREA', 'NOSCRIPT'].includes(element.tagName)) continue;
      const style = getComputedStyle(element);
      const cuts = style.overflowX !== 'visible' && style.display !== 'inline';
      const told = element.closest('[title]') !== null || style.overflowX === 'auto';
      if (cuts && !told && element.scrollWidth > element.clientWidth + 1)
        say('text wider than its box', element);
    }
    const measure = document.createElement('canvas').getContext('2d')!;
    for (const field of document.querySelectorAll<HTMLInputElement | HTMLSelectElement>(
      'input:not([type=checkbox]):not([type=radio]):not([type=range]):not([type=file]), select',
    )) {
      if (!visible(field)) continue;
      const style = getComputedStyle(field);
      measure.font = style.font;
      const isSelect = field instanceof HTMLSelectElement;
      const text = isSelect
        ? (field.selectedOptions[0]?.textContent ?? '')
        : field.value || field.placeholder;
      const room =
        field.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight);
      // A select keeps room for its arrow.
      const taken = measure.measureText(text).width + (isSelect ? 14 : 0);
      if (taken > room + 1 && text.length < 40) say(`field too narrow for "${text}"`, field);
    }

    for (const svg of document.querySelectorAll('svg')) {
      if (!visible(svg) || svg.getBoundingClientRect().width < 40) continue;
      const frame = svg.getBoundingClientRect();
      const texts: DOMRect[] = [];
      for (const mark of svg.querySelectorAll<SVGGraphicsElement>(
        'text, circle, rect, path, line, polygon, polyline',
      )) {
        if (mark.closest('clipPath, defs, pattern, marker') || !visible(mark)) continue;
        const clipped = mark.closest('[clip-path]') !== null;
        const box = mark.getBoundingClientRect();
        const beyond = Math.max(
          frame.left - box.left,
          box.right - frame.right,
          frame.top - box.top,
          box.bottom - frame.bottom,
        );
        if (!clipped && beyond > 2 && getComputedStyle(mark).fill !== 'rgba(0, 0, 0, 0)')
          say(`mark ${Math.round(beyond)} px outside its frame`, mark);
        // The box of a turned label is larger than its letters.
        if (mark.tagName === 'text' && !(mark.getAttribute('transform') ?? '').includes('rotate')) {
          for (const other of texts) {
            const across = Math.min(box.right, other.right) - Math.max(box.left, other.left);
            const down = Math.min(box.bottom, other.bottom) - Math.max(box.top, other.top);
            if (across > 2 && down > 4) {
              say('labels over each other', mark);
              break;
            }
          }
          texts.push(box);
        }
      }
    }

    // A drawn picture stands within what holds it.
    for (const canvas of document.querySelectorAll('canvas')) {
      if (!visible(canvas) || !canvas.parentElement) continue;
      const [inner, outer] = [canvas, canvas.parentElement].map((one) =>
        one.getBoundingClientRect(),
      );
      if (inner.height > outer.height + 2 || inner.width > outer.width + 2)
        say(`picture of ${Math.round(inner.height)} px in ${Math.round(outer.height)}`, canvas);
    }
    return [...new Set(faults)].slice(0, 12);
  });
}
