import { spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { join } from 'node:path';
import { tmpdir } from 'node:os';
import { chromium } from 'playwright-core';
const dir = mkdtempSync(join(tmpdir(), 'new-'));
const p = spawn('/work/main/target/debug/cerealis', ['serve', '--port', '0', '--data', join(dir, 'k.sqlite')]);
const address = await new Promise((r) => p.stdout.on('data', (c) => { const m = String(c).match(/at (http:\S+)/); if (m) r(m[1]); }));
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--headless','--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] });
const ctx = await b.newContext({ viewport: { width: 390, height: 844 }, timezoneId: 'Europe/Paris' });
const page = await ctx.newPage();
page.on('console', (m) => { if (m.type() === 'error') console.log('CONSOLE', m.text()); });
const shot = (n, full = true) => page.screenshot({ path: `/tmp/walk-${n}.png`, fullPage: full });
await page.goto(address); await page.waitForTimeout(600);
await shot('1-home');
await page.goto(address + '/formulas/bring');
await page.locator('#text').fill(`Grandmother's Sunday seed loaf
You want about a pound of strong white flour and 100 g of wholemeal rye flour
a pint of water, tepid
two teaspoons of fine salt
1 sachet easy-blend yeast
a good tablespoon of treacle
50 g each of sunflower seeds and linseed
a knob of butter for the tin
Method
Put everything in a bowl and knead for 10 minutes. Leave to rise about an hour and a half, until doubled.
Knock back, shape and put in a 2 lb tin. Prove 45 minutes.
Bake at 220 C for 35 minutes.`);
await page.getByRole('button', { name: 'Read', exact: true }).click();
await page.waitForTimeout(800);
await shot('2-review');
console.log(await page.locator('.review').innerText());
console.log(await page.locator('[data-test="found"]').innerText().catch(() => 'no found'));
await page.getByRole('button', { name: 'Make the formula', exact: true }).first().click();
await page.waitForTimeout(1200);
console.log(page.url());
await shot('3-after');
if (/\/formulas\/\d+/.test(page.url())) {
  const id = page.url().match(/formulas\/(\d+)/)[1];
  for (const s of ['formula', 'mix', 'rise', 'shape', 'oven', 'day', 'sheet']) {
    await page.goto(`${address}/formulas/${id}/${s}`); await page.waitForTimeout(300);
    await shot(`4-${s}`);
    console.log('==', s, (await page.locator('main').innerText()).replace(/\n+/g, ' | ').slice(0, 1800));
  }
}
await b.close(); p.kill('SIGKILL');
