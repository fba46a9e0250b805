import { expect, type Page } from '@playwright/test';

/** Phones, a tablet upright and across, a desk, a wall. */
export const widths = [360, 390, 768, 1024, 1280, 1920] as const;

/** At every width the page stands within its window: nothing makes it scroll sideways, its heading is inside, and so are the ways out of it and the key of the bench. */
export async function standsWithinItsWindow(page: Page): Promise<void> {
  const before = page.viewportSize();
  for (const width of widths) {
    await page.setViewportSize({ width, height: width < 600 ? 844 : 800 });
    const told = await page.evaluate(() => {
      const outside = Array.from(document.querySelectorAll<HTMLElement>('h1, nav a, nav button'))
        .map((e) => ({ text: e.textContent.trim(), at: e.getBoundingClientRect() }))
        .filter(({ at }) => at.width > 0 && (at.left < -1 || at.right > innerWidth + 1))
        .map(({ text, at }) => `${text} from ${String(Math.round(at.left))} to ${String(Math.round(at.right))}`);
      // The one key of the bench is under the thumb, whatever stands above it.
      const key = document.querySelector('footer[data-next] .primary')?.getBoundingClientRect();
      if (key && (key.top < 0 || key.bottom > innerHeight + 1 || key.left < -1 || key.right > innerWidth + 1)) outside.push(`the key from ${String(Math.round(key.top))} to ${String(Math.round(key.bottom))}`); // prettier-ignore
      // Nor does a word touch the edge of the window: a screen has its margin at every width.
      const scrolls = (e: Element | null): boolean =>
        e !== null && e.tagName !== 'MAIN' && (/auto|scroll/.test(getComputedStyle(e).overflowX) || scrolls(e.parentElement));
      const edge = Array.from(document.querySelectorAll<HTMLElement>('main h1, main h2, main p, main label, main input, main button'))
        .filter((e) => e.checkVisibility() && !scrolls(e))
        .map((e) => ({ text: `${e.tagName} ${e.textContent.trim().slice(0, 40)}`, at: e.getBoundingClientRect() }))
        .filter(({ at }) => at.width > 1 && at.height > 1 && (at.left < 4 || at.right > innerWidth - 4));
      outside.push(...edge.map(({ text, at }) => `${text} at the edge: ${String(Math.round(at.left))} to ${String(Math.round(at.right))}`));
      return { scroll: document.documentElement.scrollWidth, outside };
    });
    expect(told, `at ${String(width)}`).toEqual({ scroll: width, outside: [] });
  }
  if (before) await page.setViewportSize(before);
}
