import { expect, type Page } from '@playwright/test';

/** Phones, a tablet upright and across, a desk, a wall. */
export const widths = [360, 390, 768, 1024, 1280, 1920] as const;

/** At every width the page stands within its window: nothing makes it scroll sideways, its heading is inside, and so are the ways out of it. */
export async function standsWithinItsWindow(page: Page): Promise<void> {
  const before = page.viewportSize();
  for (const width of widths) {
    await page.setViewportSize({ width, height: width < 600 ? 844 : 800 });
    const told = await page.evaluate(() => {
      const outside = Array.from(document.querySelectorAll<HTMLElement>('h1, nav a, nav button'))
        .map((e) => ({ text: e.textContent.trim(), at: e.getBoundingClientRect() }))
        .filter(({ at }) => at.width > 0 && (at.left < -1 || at.right > innerWidth + 1))
        .map(({ text, at }) => `${text} from ${String(Math.round(at.left))} to ${String(Math.round(at.right))}`);
      return { scroll: document.documentElement.scrollWidth, outside };
    });
    expect(told, `at ${String(width)}`).toEqual({ scroll: width, outside: [] });
  }
  if (before) await page.setViewportSize(before);
}
