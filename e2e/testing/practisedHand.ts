import { expect, type Page } from '@playwright/test';
import { handDoes, worked } from './rigHand';

/** A run that is carried out at its bench; one whose procedure has no channel has no gauge that streams. */
export interface Carried {
  readonly procedure: { readonly channels: object };
}

const footer = (page: Page) => page.locator('footer[data-next]');
const main = (page: Page) => page.locator('footer .primary');
const panel = (page: Page) => page.locator('gr-rig-panel section');

/** Where a run stands, as the bench says it. */
export interface Here {
  readonly next: string;
  readonly step: string;
  readonly position: number;
}

async function here(page: Page): Promise<Here> {
  return footer(page).evaluate((f) => ({ next: f.dataset['next'] ?? '', step: f.dataset['step'] ?? '', position: Number(f.dataset['position'] ?? 0) }));
}

const same = (a: Here, b: Here): boolean => a.next === b.next && a.step === b.step;

/** Waits until the run has moved on from where it was. */
async function moved(page: Page, from: Here, any = true, timeout = 15_000): Promise<void> {
  await page.waitForFunction(
    ([next, step, position, count]) => {
      const f = document.querySelector<HTMLElement>('footer[data-next]');
      return f !== null && ((f.dataset['next'] ?? '') !== next || (f.dataset['step'] ?? '') !== step || (count && f.dataset['position'] !== String(position)));
    },
    [from.next, from.step, from.position, any] as const,
    { timeout, polling: 50 },
  );
}

/** Pressed in one breath of the page, as `handDoes` is: what the rig tells meanwhile may move the key from under a pointer that is half-way through a click. */
async function press(page: Page, name: string): Promise<void> {
  const button = panel(page).getByRole('button', { name, exact: true });
  await expect(button).toBeEnabled();
  await worked(page, () =>
    button.evaluate((b: HTMLButtonElement) => {
      b.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
      b.focus();
      b.click();
    }),
  );
}

/** Lets time pass; the panel is done with it when what the rig's instruments then say has come. */
async function pass(page: Page, seconds: number): Promise<void> {
  await panel(page)
    .getByLabel('Let pass, s')
    .fill(String(Math.max(1, Math.ceil(seconds))));
  await press(page, 'Pass');
}

/** Gives the reason that the bar asks for. */
async function reason(page: Page, text: string): Promise<void> {
  await page.locator('#reason').fill(text, { timeout: 20_000 });
  await page.locator('#reason').press('Enter');
}

function secondsIn(text: string): number {
  const found = /(?:(\d+):)?(\d+):(\d\d)/.exec(text);
  return found ? Number(found[1] ?? 0) * 3600 + Number(found[2]) * 60 + Number(found[3]) : 1;
}

const MOST_TURNS = 400;
/** A quarter of an hour of the rig's, by the steps below. */
const PATIENCE_TURNS = 14;
/** And longer than anything that a hand has to wait for by the real clock, ms. */
const PATIENCE_MS = 20_000;

/** Lets time pass until the primary action is open; false when patience runs out. */
async function untilOpen(page: Page, step = 8): Promise<boolean> {
  // A run without a gauge goes by the real clock, whatever its procedure could read: what takes ten seconds there is not hurried by a rig's.
  const began = Date.now();
  for (let i = 0; i < PATIENCE_TURNS || Date.now() - began < PATIENCE_MS; i++) {
    if (await main(page).isEnabled()) return true;
    const now = await here(page);
    // What takes long is waited for in longer steps, and what never comes does not take the whole morning.
    await pass(page, Math.max(step, i < 4 ? 0 : i < 8 ? 30 : 120));
    await page.waitForTimeout(50);
    if ((await here(page)).next !== now.next) return true;
  }
  return false;
}

const rounds = new WeakSet<Page>();
/** Whether what a page carries out is of a round. */
const inRound = (page: Page): boolean => rounds.has(page);

async function turn(page: Page, at: Here, streams: boolean): Promise<void> {
  switch (at.next) {
    case 'answer': {
      const seen = panel(page).locator('[data-seen]');
      const wrong = (await seen.count()) > 0 && (await seen.getAttribute('class'))?.includes('wrong');
      if (wrong) {
        await page.keyboard.press('n');
        await reason(page, 'not in order');
      } else if (await page.getByRole('button', { name: /Does not apply/ }).isVisible()) {
        await page.keyboard.press('a');
        await reason(page, 'not fitted');
      } else if (await untilOpen(page, 2)) await page.keyboard.press('Space');
      else {
        // Its gauge shows otherwise.
        await page.keyboard.press('n');
        await reason(page, 'its gauge shows otherwise');
      }
      return;
    }
    case 'seal':
      await expect(main(page)).toBeEnabled();
      await page.keyboard.press('z');
      return;
    case 'spot': {
      const words = await panel(page).locator('[data-seen]').innerText();
      const grade = /few/.test(words) ? 'A few at first' : /grows/.test(words) ? 'Grows with pressure' : /stream/.test(words) ? 'Steady stream' : null;
      if (grade === null) {
        // A place takes its time before it can be called dry: the rig's, where its clock is the run's.
        if (streams) await untilOpen(page, 5);
        await expect(main(page)).toBeEnabled({ timeout: 30_000 });
        await page.keyboard.press('Space');
      } else await page.getByRole('button', { name: grade }).click();
      return;
    }
    case 'read':
      await panel(page).getByRole('button', { name: 'Write it down' }).click();
      return;
    case 'begin':
      // In a round most stages begin by themselves, a moment after the one before is over.
      if (inRound(page)) await page.waitForTimeout(200);
      if (!same(at, await here(page))) return;
      await handDoes(page);
      if (!same(at, await here(page))) return;
      await page.keyboard.press('Space');
      return;
    case 'act':
    case 'reach': {
      await handDoes(page);
      // What was waited for can have come while the hand was at it.
      if (!same(at, await here(page))) return;
      const came = (await panel(page).getByRole('alert').count()) === 0;
      if (at.next === 'act' && came) await pass(page, 1);
      if (came && (await untilOpen(page, at.next === 'act' ? 2 : 8))) await page.keyboard.press('Space');
      else {
        if (!same(at, await here(page))) return;
        await page.keyboard.press('g');
        await reason(page, 'it never came');
      }
      return;
    }
    case 'wait': {
      await handDoes(page);
      await pass(page, secondsIn(await main(page).innerText()) + 1);
      await moved(page, at, false).catch(() => undefined);
      return;
    }
    case 'start': {
      await pass(page, 20);
      // What the hand has brought there is shown a moment later: a vessel that leaks does not stay in its window while time is let pass.
      if (await handDoes(page))
        await expect(main(page))
          .toBeEnabled({ timeout: 2000 })
          .catch(() => undefined);
      await untilOpen(page, 3);
      await page.keyboard.press('Space');
      return;
    }
    case 'hold': {
      await handDoes(page);
      await pass(page, secondsIn(await main(page).innerText()));
      await moved(page, at, false).catch(() => undefined);
      return;
    }
    // The program says by itself that a stage is over: a press that comes a moment after it would begin the next one, before the rig's hand has done anything for it.
    case 'end':
      return;
    default:
      await page.keyboard.press('Space');
  }
}

/** Takes the run that is shown over from whoever holds it, and sees to it that it is held: a press that was lost is pressed again. */
export async function takeOver(page: Page): Promise<void> {
  const button = page.getByRole('button', { name: 'Take it over' });
  const lookingOn = page.getByText('You are looking on.');
  await expect(button).toBeVisible();
  await expect(async () => {
    if (await lookingOn.isVisible()) await button.click({ timeout: 2000 });
    await expect(lookingOn).toBeHidden({ timeout: 5000 });
  }).toPass();
}

/** Sets the rig beside the bench up with a fault; its clock then stands still until it is stepped. */
export async function setUp(page: Page, fault: string): Promise<void> {
  await press(page, 'still');
  // The same noise every time: what the rig reads does not hang on the chance of a name.
  await panel(page).getByLabel('Seed').fill('5');
  const choice = panel(page).getByLabel('Fault');
  await choice.selectOption(fault);
  await expect(choice).toHaveValue(fault);
  await press(page, 'Set up anew');
  // It was set up with this one, and not with what stood there before the panel was whole.
  await expect(choice).toHaveValue(fault);
}

/**
 * Waits until the run stands elsewhere. A reading that comes in between is no answer to a press: who takes it for one looks at a page that is about to change, and
 * has the hand do the next step twice.
 */
async function goneOn(page: Page, from: Here): Promise<void> {
  try {
    await moved(page, from, false, 5000);
  } catch {
    await moved(page, from).catch(async () => {
      const whole = await page.locator('body').innerText();
      throw new Error(`stuck at ${from.next} ${from.step}: ${await footer(page).innerText()}\n${whole}`);
    });
  }
}

/** Goes on with a run on the real screens as a practised hand would, until it is closed or stands where it is wanted. */
export async function carryOnUntil(page: Page, p: Carried, wanted: (at: Here) => boolean | Promise<boolean>): Promise<void> {
  const streams = Object.keys(p.procedure.channels).length > 0;
  for (let i = 0; i < MOST_TURNS; i++) {
    const at = await here(page);
    if ((await wanted(at)) || at.next === 'closed') return;
    await turn(page, at, streams);
    await goneOn(page, at);
  }
  throw new Error(`never came to its end in ${String(MOST_TURNS)} turns: ${await footer(page).innerText()}`);
}

/** Lets time pass on the rig of a run that reads something from it. */
export function letPass(page: Page, seconds: number): Promise<void> {
  return pass(page, seconds);
}

/** Does what the rig's hand does at the step that is shown. */
export async function letHandDo(page: Page): Promise<void> {
  await handDoes(page);
}

/** From a closed run to its record, once that has been written. */
export async function openRecord(page: Page): Promise<void> {
  await expect(main(page))
    .toHaveText(/To the record/)
    .catch(async (e: unknown) => {
      // A word that was refused is said there, and why.
      throw new Error(`${String(e)}\n${await page.locator('body').innerText()}`);
    });
  await expect(main(page)).toBeEnabled();
  await page.keyboard.press('Space');
  await page.waitForURL('**/log/GR-*');
}

/** The next item of a round by its serial, on the page that asks for it: its bench, with its rig set up. */
export async function scan(page: Page, serial: string, fault: string): Promise<void> {
  rounds.add(page);
  const before = page.url();
  await page.getByLabel('Next item of the round').fill(serial);
  await page.getByLabel('Next item of the round').press('Enter');
  await page.waitForURL((url) => url.pathname.startsWith('/bench/') && url.href !== before);
  await expect(main(page)).toBeEnabled();
  await setUp(page, fault);
}
