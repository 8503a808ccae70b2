import { open, visit, type, WIDE, PHONE } from './house.mjs';
const house = await open();
const station = (page, name) => page.locator(`.rail a[data-station="${name}"]`).click();
try {
  for (const [size, vp] of [['w', WIDE], ['p', PHONE]]) await visit(house, '/formulas', vp, async (page) => {
    await page.getByRole('link', { name: /Four-strand honey plait/ }).click();
    await page.waitForURL('**/formula');
    await station(page, 'shape');
    await page.getByRole('button', { name: 'Make something else of a part of the dough' }).click();
    const makeup = page.locator('fieldset.makeup');
    await makeup.getByLabel('Shape').selectOption('tin');
    await makeup.getByLabel('On or in').selectOption('tin');
    await type(page, 'makeups.0.pieces', '1');
    await type(page, 'makeups.0.piece_weight', '400');
    await makeup.getByText('Its strands, pan and cuts').click();
    await makeup.getByLabel("Pan's length, or round").fill('22');
    await makeup.getByLabel('Width').fill('10');
    await makeup.getByLabel('Width').press('Tab');
    await page.locator('[data-test="holder-2"]').waitFor();
    await page.screenshot({ path: `/tmp/${size}1.png`, fullPage: true });
    await station(page, 'formula');
    await page.getByText('Wash: when, and on which pieces').click();
    await page.locator('[data-stage="wash"] + details').getByLabel('On which pieces').first().selectOption('all');
    await page.waitForTimeout(500);
    await page.screenshot({ path: `/tmp/${size}2.png`, fullPage: true });
    await station(page, 'day');
    await page.waitForTimeout(500);
    await page.screenshot({ path: `/tmp/${size}3.png`, fullPage: true });
    console.log(await page.locator('[data-panel="day"]').innerText());
  });
} finally { await house.close(); }
