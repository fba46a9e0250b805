import { expect, type Page } from '@playwright/test';
import { atBench, openPractice } from './testing/practice';
import { carryOnUntil, letPass, openRecord, takeOver, type Here } from './testing/practisedHand';
import { seriousIssues } from './testing/axe';
import { inTurn, sharing } from './testing/rotation';
import { test } from './testing/signedIn';
import { standsWithinItsWindow } from './testing/widths';

const shared = sharing(test, 5);

/** Nothing serious in the bright yard nor in the dark bay. */
async function noSeriousIssue(page: Page, where: string): Promise<void> {
  for (const scheme of ['light', 'dark'] as const) {
    await page.evaluate((on) => document.documentElement.classList.toggle('dark', on), scheme === 'dark');
    expect(await seriousIssues(page, scheme), `${where}, ${scheme}`).toEqual([]);
  }
}

const stages: readonly { readonly procedure: string; readonly ruleSet: string; readonly fault: string; readonly stops: readonly ((at: Here) => boolean)[] }[] = [
  { procedure: 'ba.soap-survey', ruleSet: 'general', fault: 'line joint', stops: [(at) => at.next === 'answer', (at) => at.step === 'low-pressure-hose'] },
  { procedure: 'ba.facepiece', ruleSet: 'mbar-10', fault: 'none', stops: [(at) => at.next === 'begin', (at) => at.next === 'reach', (at) => at.next === 'hold', (at) => at.next === 'seal', (at) => at.next === 'closed'] },
  { procedure: 'store.half-life', ruleSet: 'new', fault: 'none', stops: [(at) => at.next === 'hold'] },
  { procedure: 'anaes.circle', ruleSet: 'human', fault: 'none', stops: [(at) => at.step === 'still'] },
  { procedure: 'cyl.water-jacket', ruleSet: 'us-metal', fault: 'none', stops: [(at) => at.step === 'zeroed'] },
  { procedure: 'valve.relief', ruleSet: 'asme', fault: 'none', stops: [(at) => at.step === 'shut-1'] },
  { procedure: 'brakes.whole', ruleSet: 'build-from-low', fault: 'none', stops: [(at) => at.step === 'warns'] },
  { procedure: 'brakes.whole', ruleSet: 'single', fault: 'none', stops: [(at) => at.next === 'read'] },
]; // prettier-ignore

for (const s of inTurn(stages, 4))
  test(`axe finds nothing serious on the bench of ${s.procedure}, ${s.ruleSet}`, async ({ page, api }) => {
    const p = await openPractice(api, s.procedure, s.ruleSet);
    await atBench(page, p, s.fault);
    for (const [i, stop] of s.stops.entries()) {
      await carryOnUntil(page, p, stop);
      await noSeriousIssue(page, `${s.procedure}, stop ${String(i + 1)}`);
      // On a phone, an upright tablet, a desk and a wall: nothing is wider than its window, and the key is under the thumb.
      await standsWithinItsWindow(page);
    }
  });

shared('the calculator and the sheet of keys beside a run: axe, keys, and a note that is kept', async ({ page, api }) => {
  const p = await openPractice(api, 'cyl.visual', 'us-metal');
  await atBench(page, p, 'none');
  await page.locator('h1').click();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys of the bench' })).toBeVisible();
  await noSeriousIssue(page, 'sheet');
  await page.keyboard.press('Escape');
  await page.keyboard.press('c');
  const calculator = page.getByRole('dialog', { name: 'Calculator' });
  await calculator.getByRole('button', { name: 'Breathing bag' }).click();
  await noSeriousIssue(page, 'calculator');
  await calculator.getByRole('button', { name: /Put it into a note/ }).click();
  await expect(calculator).toBeHidden();
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
  await expect(page.getByText(/Breathing bag: body mass 22 kg/)).toBeVisible();
});

shared('what was said last is taken back with its reason, and nothing is erased', async ({ page, api }) => {
  const p = await openPractice(api, 'cyl.visual', 'us-metal');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, (at) => at.next === 'answer');
  const first = await page.locator('.question').innerText();
  await page.keyboard.press('Space');
  await expect(page.locator('.question')).not.toHaveText(first);
  await page.keyboard.press('u');
  await expect(page.getByLabel(/taken back\?$/)).toBeVisible();
  await page.locator('#reason').fill('pressed too soon');
  await page.keyboard.press('Enter');
  await expect(page.locator('.question')).toHaveText(first);
  await carryOnUntil(page, p, (at) => at.next === 'closed');
  await openRecord(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`${p.tag} is in order`);
});

shared('a key that is held answers once: Space on the bench, Enter on the key in focus', async ({ page, api }) => {
  const p = await openPractice(api, 'cyl.visual', 'us-metal');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, (at) => at.next === 'answer');
  const position = async (): Promise<number> => Number(await page.locator('footer[data-next]').getAttribute('data-position'));
  for (const key of ['Space', 'Enter']) {
    if (key === 'Enter') await page.locator('footer .primary').focus();
    const first = await page.locator('.question').innerText();
    const before = await position();
    for (let i = 0; i < 30; i++) await page.keyboard.down(key); // all but the first are what the keyboard repeats
    await page.keyboard.up(key);
    await expect(page.locator('.question')).not.toHaveText(first);
    expect(await position()).toBe(before + 1);
  }
});

shared('every action of the bench is reached by Tab, and shows where it stands', async ({ page, api }) => {
  const p = await openPractice(api, 'ba.soap-survey', 'general');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, (at) => at.next === 'spot');
  const wanted = new Set(await page.locator('footer button:enabled').allInnerTexts());
  await page.locator('h1').click();
  for (let i = 0; i < 80 && wanted.size > 0; i++) {
    await page.keyboard.press('Tab');
    const here = await page.evaluate(() => {
      const e = document.activeElement;
      return e instanceof HTMLElement && e.closest('footer') ? { text: e.innerText, outline: getComputedStyle(e).outlineStyle } : null;
    });
    if (!here) continue;
    expect(here.outline).not.toBe('none');
    wanted.delete(here.text);
  }
  expect([...wanted]).toEqual([]);
});

shared('several runs run beside one another, and one that wants a hand says so', async ({ page, api }) => {
  const one = await openPractice(api, 'suit.inflation', 'mbar-16.5');
  const two = await openPractice(api, 'suit.inflation', 'in-h2o-4');
  await atBench(page, one, 'none');
  await carryOnUntil(page, one, (at) => at.next === 'hold');
  await atBench(page, two, 'none');
  const row = page.locator(`a[data-run="${one.run}"]`);
  await expect(row).toContainText(one.tag);
  await expect(row).toContainText(/\d:\d\d/);
  await row.click();
  await expect(page.getByRole('heading', { level: 1, name: one.tag })).toBeVisible();
  await letPass(page, 120);
  await page.goto('/bench');
  await expect(page.locator(`a[data-run="${one.run}"]`)).toContainText(/wants a hand|holding/);
  await expect(page.locator(`a[data-run="${two.run}"]`)).toContainText('wants a hand');
  await noSeriousIssue(page, 'the benches');
});

shared('a tank is opened with the figures of the day, and a failed one has its way out', async ({ page, api }) => {
  const stamp = String(Date.now() % 1e8);
  const made = await api.post('/api/assets', { data: { tag: `FT-${stamp}`, serial: `ST ${stamp}`, class: 'storage-tank', title: 'Petrol tank', place: 'Fuel farm', practice: true, attributes: { aboveGround: false, nitrogenBy: 'coupler', tieTest: false, tanks: { value: 2, unit: '1' }, authority: 'skarvoy-fuel-office', nozzles: { value: 6, unit: '1' }, recovery: 'balance' } } }); // prettier-ignore
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/register/${id}`);
  const start = page.getByRole('button', { name: 'Start', exact: true });
  await expect(page.getByText(/^Say: /)).toBeVisible();
  const hoursAgo = (h: number): string => {
    const then = new Date(Date.now() - h * 3_600_000);
    return new Date(then.getTime() - then.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
  };
  await page.getByLabel('Since the last bulk delivery').fill(hoursAgo(3));
  await page.getByLabel('Since the last liquid test').fill(hoursAgo(40));
  await page.getByLabel('Since the last fuelling').fill(hoursAgo(1));
  // Tank by tank: two that are joined, and one alone with too little in it.
  const tank = async (k: number, figures: Readonly<Record<string, string>>): Promise<void> => {
    for (const [id, text] of Object.entries(figures)) await page.locator(`#a-tanks-${String(k)}-${id}`).fill(text);
  };
  await tank(1, { name: 'petrol', capacity: '10000', ullage: '4000', manifold: 'A' });
  // As many as the register says there are.
  await expect(page.getByText('Tank 2: say its capacity.')).toBeVisible();
  await tank(2, { capacity: '10000', ullage: '1400', manifold: 'A' });
  await expect(page.getByText(/Tank 2: Ullage is too small: 15 % at least/)).toBeVisible();
  await tank(2, { ullage: '1600' });
  await expect(page.getByText(/Wait: 8 h since the last bulk delivery/)).toBeVisible();
  await page.getByLabel('Since the last bulk delivery').fill(hoursAgo(9));
  await page.getByRole('button', { name: 'Another tank' }).click();
  await tank(3, { name: 'diesel', capacity: '900', ullage: '400' });
  await page.getByLabel('Serial on the item').fill('somebody else’s');
  await expect(start).toBeDisabled();
  await page.getByLabel('Serial on the item').fill(`st-${stamp}`);
  await expect(start).toBeEnabled();
  await standsWithinItsWindow(page);
});

shared(
  'three tanks, two of them joined, from a pasted printout: each is tested by the line of the authority’s table that its ullage asks for',
  async ({ page, api }) => {
    const stamp = String(Date.now() % 1e8);
    const inH2O = (value: number) => ({ value, unit: "[in_i'H2O]" });
    const item = { tag: `FP-${stamp}`, serial: `SP ${stamp}`, class: 'storage-tank', title: 'Fuel farm', place: 'Fuel farm', practice: true, attributes: { aboveGround: false, nitrogenBy: 'vent', tieTest: false, tanks: { value: 3, unit: '1' }, authority: 'skarvoy-fuel-office' } }; // prettier-ignore
    const { id } = (await (await api.post('/api/assets', { data: item })).json()) as { id: string };
    const gauge = { tag: `MP-${stamp}`, title: `MP-${stamp}`, serial: `M ${stamp}`, place: 'Fuel farm', fittedTo: null, low: inH2O(0), high: inH2O(14), resolution: inH2O(0.01), accuracy: inH2O(0.02), correlation: 0.9, calibrationDue: '2099-01-01', address: null, rig: null }; // prettier-ignore
    expect((await api.post('/api/instruments', { data: gauge })).ok()).toBe(true);
    await page.goto(`/register/${id}`);
    const hoursAgo = (h: number): string => {
      const then = new Date(Date.now() - h * 3_600_000);
      return new Date(then.getTime() - then.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
    };
    for (const [what, h] of [['Since the last bulk delivery', 20], ['Since the last liquid test', 40], ['Since the last fuelling', 2]] as const) await page.getByLabel(what).fill(hoursAgo(h)); // prettier-ignore
    await page.getByRole('button', { name: 'Paste a printout' }).click();
    await page
      .locator('#tanks-printout')
      .fill('SKARVOY FUEL FARM\nUnleaded, premium, diesel\nCapacity (gal);Ullage;Manifold\n10000;4000;A\n8000;7000;A\n900;400;\n');
    await page.getByRole('button', { name: 'Put it into the fields' }).click();
    await expect(page.getByText('3 read. Look at every figure before it counts.')).toBeVisible();
    await expect(page.getByText(/Not read: SKARVOY FUEL FARM/)).toBeVisible();
    await page.locator('#gauge-tank').click();
    await page.getByRole('option', { name: `MP-${stamp}` }).click();
    await page.getByLabel('Serial on the item').fill(`sp${stamp}`);
    await page.getByRole('button', { name: 'Start', exact: true }).click();
    await page.waitForURL('**/bench/**');
    const stages = page.locator('gr-bench-head ol li');
    await expect(stages.filter({ hasText: 'Tanks 1 + 2' })).toHaveCount(1);
    await expect(stages.filter({ hasText: 'Hold at ten inches: Tank 3' })).toHaveCount(1);
    // 11 000 gal together are watched for fifteen minutes, 400 gal for five.
    const run = new URL(page.url()).pathname.split('/').at(-1) ?? '';
    const events = await page.evaluate(async (r) => {
      const reader = (await fetch(`/api/runs/${r}/events`)).body?.getReader();
      const first = await reader?.read();
      await reader?.cancel();
      return new TextDecoder().decode(first?.value);
    }, run);
    expect(events).toContain('"edition":"1"');
    expect(events).toContain('skarvoy-fuel-office');
  },
);

shared('a failed run ends with its way out: the rig, the leak marked, the tag, the retest', async ({ page, api }) => {
  const p = await openPractice(api, 'drysuit.survey', 'general');
  await atBench(page, p, 'pinhole');
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
  await expect(page.getByRole('heading', { name: 'What now' })).toBeVisible();
  await expect(page.getByText('Body, front: seams and panels: a stream that grows with the pressure').last()).toBeVisible();
  await page.getByRole('img', { name: /leaks marked/ }).click({ position: { x: 200, y: 120 } });
  await page.getByLabel(/Where it leaks/).fill('strap plate');
  await page.getByRole('button', { name: 'Mark it' }).click();
  await expect(page.getByText('strap plate: a steady stream')).toBeVisible();
  const tag = await page.getByRole('link', { name: /do-not-use tag/ }).getAttribute('href');
  expect((await page.request.get(tag ?? '')).headers()['content-type']).toBe('application/pdf');
  await noSeriousIssue(page, 'the way out');
  await page.getByRole('link', { name: /retest it/ }).click();
  await expect(page.getByRole('heading', { name: 'Retest after the repair' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Leaks' })).toBeVisible();
});

shared('a tablet held upright has everything in reach', async ({ page, api }) => {
  await page.setViewportSize({ width: 800, height: 1280 });
  const p = await openPractice(api, 'anaes.circle', 'human');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, (at) => at.step === 'still');
  const wide = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(wide).toBeLessThanOrEqual(0);
  const box = await page.locator('footer .primary').boundingBox();
  expect(box?.height ?? 0).toBeGreaterThanOrEqual(56);
  for (const button of await page.locator('footer button').all()) expect((await button.boundingBox())?.height ?? 0).toBeGreaterThanOrEqual(44);
});

shared('a logger’s file is taken in on the bench: its columns matched, its readings on the gauge', async ({ page, api }) => {
  const number = `${String(process.pid % 1000)}${String(Date.now() % 1_000_000)}`;
  const suit = (await (await api.post('/api/assets', { data: { tag: `GC-${number}`, serial: `C${number}`, class: 'gas-tight-suit', title: 'Suit', place: 'Practice', practice: true, attributes: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' }, buildStandard: 'ASTM F1052' } } })).json()) as { id: string }; // prettier-ignore
  const gauges = (await (await api.get('/api/instruments')).json()) as { id: string; tag: string }[];
  const gauge = gauges.find((g) => g.tag === 'MG-01');
  const opened = await api.post('/api/runs', {
    data: { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', assets: { suit: suit.id }, instruments: { suit: gauge?.id } },
  });
  await page.goto(`/bench/${((await opened.json()) as { id: string }).id}`);
  await takeOver(page);
  const footer = page.locator('footer[data-next]');
  // The looks are said yes to; then the gauge is asked for.
  await expect(async () => {
    if (/begin|answer/.test((await footer.getAttribute('data-next')) ?? '')) await page.keyboard.press('Space');
    expect(await footer.getAttribute('data-next')).toMatch(/act|reach/);
  }).toPass({ timeout: 60_000, intervals: [250] });
  await page.getByText('From a logger’s file').click();
  const csv = ['t;pressure', ...[0, 1, 2, 3].map((t) => `${String(t)};${(5.2 + t / 10).toFixed(2).replace('.', ',')}`)].join('\n');
  await page.getByLabel('A logger’s file (CSV)').setInputFiles({ name: 'log.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await page.getByLabel('How the time is written').selectOption('seconds');
  await noSeriousIssue(page, 'a logger’s file');
  await page.getByRole('button', { name: 'Take them' }).click();
  await expect(page.locator('.gauge .value').first()).toContainText('5.50');
});
