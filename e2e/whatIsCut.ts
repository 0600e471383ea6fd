import type { Page } from 'playwright-core';

/**
 * What a person cannot reach or read on a page as it stands: a document wider than its window, controls that stay
 * outside of it however one scrolls or that something else lies on, and words of theirs that are cut off and told nowhere.
 */
export async function whatIsCut(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found: string[] = [];
    const name = (node: Element): string =>
      `${node.tagName.toLowerCase()} "${(node.getAttribute('aria-label') ?? node.textContent ?? '').trim().slice(0, 40)}"`;
    const wide = document.documentElement.scrollWidth - window.innerWidth;
    if (wide > 1) found.push(`the page is ${wide} px wider than its window`);
    const controls = document.querySelectorAll<HTMLElement>('button, a[href], input, select, textarea, summary');
    for (const control of controls) {
      if (!control.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
      if (control.closest('[aria-hidden=true], .sr-only') || control.classList.contains('sr-only')) continue;
      control.scrollIntoView({ block: 'center', inline: 'nearest' });
      const box = control.getBoundingClientRect();
      if (box.width < 2 || box.height < 2) continue;
      const outside =
        box.left < -1 || box.right > window.innerWidth + 1 || box.top < -1 || box.bottom > window.innerHeight + 1;
      if (outside && box.width <= window.innerWidth && box.height <= window.innerHeight) {
        found.push(`${name(control)} stays outside of the window`);
        continue;
      }
      const above = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
      if (above && above !== control && !control.contains(above) && !above.contains(control)) {
        const labelled = control.closest('label');
        if (!labelled?.contains(above)) found.push(`${name(above)} lies on ${name(control)}`);
      }
      const told = control.closest('[title]') ?? control.querySelector('[title]');
      if (control.matches('button, a') && control.scrollWidth > control.clientWidth + 1 && !told)
        found.push(`the words of ${name(control)} are cut off`);
    }
    return [...new Set(found)];
  });
}
