import { open, visit, type, WIDE, PHONE } from './house.mjs';
const house = await open();
const station = (page, name) => page.locator(`.rail a[data-station="${name}"]`).click();
let bad = 0;
for (let n = 0; n < 12; n += 1) {
  await visit(house, '/formulas', PHONE, async (page) => {
    const log = [];
    page.on('request', (r) => { if (r.url().includes('preview')) { const b = new URLSearchParams(r.postData()); log.push(`> ${b.get('here')} ways=${b.get('ways')} op=${b.get('op')} on=${[...b].filter(([k]) => k.endsWith('.on')).map(([k, v]) => k + '=' + v)}`); } });
    page.on('response', async (r) => { if (r.url().includes('preview')) { try { const j = await r.json(); log.push(`< ${Object.keys(j.html)} on=${Object.entries(j.values).filter(([k]) => k.endsWith('.on')).map(([k, v]) => k + '=' + v)} f=${JSON.stringify(j.faults)}`); } catch (e) { log.push('< ' + e); } } });
    await page.getByRole('link', { name: /Four-strand honey plait/ }).click();
    await page.waitForURL('**/formula');
    await station(page, 'shape');
    await page.getByRole('button', { name: 'Make something else of a part of the dough' }).click();
    const makeup = page.locator('fieldset.makeup');
    await makeup.getByLabel('Shape').selectOption('tin');
    await makeup.getByLabel('On or in').selectOption('tin');
    await type(page, 'makeups.0.pieces', '1');
    await type(page, 'makeups.0.piece_weight', '400');
    await station(page, 'formula');
    await page.getByText('Wash: when, and on which pieces').click();
    await page.locator('[data-stage="wash"] + details').getByLabel('On which pieces').first().selectOption('all');
    await station(page, 'day');
    try { await page.locator('[data-panel="day"]').locator(':text("Wash: 1 × tin loaf"):visible').first().waitFor({ timeout: 4000 }); }
    catch { bad += 1; if (bad < 3) console.log(log.slice(-12).join('\n'), '\nNOW', await page.locator('[name$=".on"]').evaluateAll((a) => a.map((e) => e.name + e.value))); }
  });
}
console.log('bad', bad);
await house.close();
