import { execFileSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import { test } from '@playwright/test';
import { carryOn, label, openAsset, sealAndRead, signIn, startRun } from '../testing/bench';
import { letPass, setUp } from '../testing/practisedHand';
import { folder, picture } from './picture';

/** The pictures of docs/screenshots, from the demo data: PICTURES=1, against a freshly started product. */
test.describe.configure({ mode: 'serial' });

test('today, register, item, plan, instrument, verification', async ({ page, browser }) => {
  await signIn(page, 'officer');
  await page.getByRole('heading', { name: /May not be used/ }).waitFor();
  await picture(page, 'today');
  await page.goto('/register?state=due&sort=due');
  await page.getByRole('link', { name: 'GS-09' }).waitFor();
  await picture(page, 'register');
  await openAsset(page, 'GS-10');
  await picture(page, 'item');
  await page.goto('/plan');
  await page.getByRole('button', { name: /^TK-01/ }).waitFor();
  await picture(page, 'plan');
  await page.goto('/instruments');
  await page.getByRole('link', { name: 'PL-04', exact: true }).click();
  await page.getByText('Found out of tolerance').waitFor();
  await picture(page, 'instrument');
  await page.goto('/verification');
  await page.getByRole('button', { name: 'Verify everything' }).click();
  await page.getByText('nothing has been changed').waitFor();
  await picture(page, 'verification');
  // On a phone, without a sign-in: what the code on a certificate opens.
  const { rows } = (await (await page.request.get('/api/records?verdict=pass')).json()) as { rows: { number: string; tag: string; sealedAt: string }[] };
  const passed = rows[0];
  const { serial, head } = (await (await page.request.get(`/api/records/${passed?.number ?? ''}`)).json()) as { serial: string; head: string };
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 } });
  const code = new URLSearchParams({ n: passed?.number ?? '', t: passed?.tag ?? '', s: serial, v: 'pass', a: passed?.sealedAt ?? '', h: head });
  await phone.goto(`/verify#${code.toString()}`);
  await phone.getByText('Genuine').first().waitFor();
  await picture(phone, 'verify');
  await phone.close();
});

test('the bench of a suit that leaks, its record and certificate', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'GS-01', { suit: 'PL-03' });
  await setUp(page, 'zip end');
  await carryOn(page, /Yes/);
  await picture(page, 'bench-look');
  await carryOn(page, /Holding/);
  await carryOn(page, /Inflate/);
  await carryOn(page, /Holding/);
  await letPass(page, 95);
  await page.waitForTimeout(1500);
  await picture(page, 'bench-hold');
  await carryOn(page, /Where does it leak/);
  await page.waitForTimeout(500);
  await picture(page, 'bench-finding');
  await sealAndRead(page);
  await picture(page, 'record');
  const href = await page.getByRole('link', { name: 'Certificate (PDF)' }).getAttribute('href');
  writeFileSync('/tmp/grellin-certificate.pdf', await (await page.request.get(href ?? '')).body());
  execFileSync('pdftoppm', ['-r', '70', '-png', '-singlefile', '/tmp/grellin-certificate.pdf', `${folder}/certificate`]);
  rmSync('/tmp/grellin-certificate.pdf');
  await page.goto('/log');
  await page.getByRole('link', { name: 'GR-' }).first().waitFor();
  await picture(page, 'log');
});

test('two gauges in the dark bay', async ({ browser }) => {
  const page = await (await browser.newContext({ colorScheme: 'dark', viewport: { width: 1280, height: 800 } })).newPage();
  await signIn(page);
  await startRun(page, 'TR-05', { primary: 'BP-01a', secondary: 'BP-01b' });
  await setUp(page, 'chamber diaphragm');
  await carryOn(page, /Applied/);
  await carryOn(page, /Holding/);
  await carryOn(page, /Holding/);
  await letPass(page, 38);
  await page.waitForTimeout(1500);
  await picture(page, 'bench-brakes-dark');
  if (!/Holding|Time is up/.test(await label(page))) throw new Error('the hold was missed');
});
