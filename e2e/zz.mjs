import { open, visit, type, WIDE, PHONE } from './house.mjs';
const house = await open();
const station = (page, name) => page.locator(`.rail a[data-station="${name}"]`).click();
try {
  for (const [size, vp] of [['w', WIDE], ['p', PHONE]]) await visit(house, '/formulas/7/oven', vp, async (page) => {
    await page.getByText('A cover, foil, own minutes').click();
    await page.getByText('Door ajar, in its tin, cooling').click();
    await type(page, 'oven.minutes', '1 h 5');
    await type(page, 'oven.cools_in', '10');
    await page.locator('[name="oven.cools_in"]').press('Tab');
    await page.waitForTimeout(500);
    await page.screenshot({ path: `/tmp/${size}4.png`, fullPage: size === 'p' ? false : true });
    await station(page, 'rise');
    await page.getByText('To a line in the pan, uncovered').click();
    await page.locator('[name="rise.rim"]').scrollIntoViewIfNeeded();
    await page.screenshot({ path: `/tmp/${size}5.png` });
    await station(page, 'mix');
    await page.getByText('Blooming, own minutes, folds, butter').click();
    await page.locator('[name="mix.butter"]').scrollIntoViewIfNeeded();
    await page.screenshot({ path: `/tmp/${size}6.png` });
  });
} finally { await house.close(); }
