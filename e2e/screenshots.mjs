// Refreshes docs/screenshots from the demo kitchen: `node screenshots.mjs` after a build.

import { PHONE, WIDE, open, visit } from './house.mjs';

const INTO = new URL('../docs/screenshots/', import.meta.url).pathname;
const VIEWS = [
  ['formulas', '/formulas', WIDE],
  ['formula', '/formulas/3/formula', WIDE],
  ['bring', '/formulas/bring', WIDE, 'light', async (page) => {
    await page.getByRole('textbox', { name: 'The lines as written or said' }).fill('Sunday milk buns\n3 to 3 1/2 cups flour, plus more for dusting\n1 1/4 cups lukewarm milk\n1 packet active dry yeast\n1/4 cup sugar\n1 1/2 teaspoons salt\n2 large eggs, beaten\n1 stick butter, softened\n1 egg, for brushing\nMethod\nKnead by hand 10 minutes. Let rise 1 hour until doubled.\nDivide into 12 buns on a baking sheet. Bake at 375 °F for 18 minutes.');
    await page.getByRole('button', { name: 'Read' }).click();
    await page.getByText('Effective hydration').waitFor();
  }],
  ['mix', '/formulas/5/mix', WIDE],
  ['rise', '/formulas/1/rise', { width: 1280, height: 1500 }, 'light', async (page) => {
    await page.locator('[name="back.at"]').fill('17:30');
    await page.locator('[data-op="back:yeast"]').waitFor();
    await page.locator('[name="back.at"]').blur();
  }],
  ['shape', '/formulas/5/shape', { width: 1280, height: 1350 }],
  ['oven', '/formulas/1/oven', { width: 1280, height: 1350 }, 'light', async (page) => {
    await page.locator('#table-sizes').waitFor();
  }],
  ['day', '/formulas/1/day', WIDE],
  ['kitchen', '/kitchen', WIDE],
  ['today', '/', WIDE],
  ['rising', '/bakes/1/rise', WIDE],
  ['sheet', '/formulas/1/sheet', { width: 1000, height: 1180 }],
  ['phone-mix', '/formulas/1/mix', PHONE],
  ['phone-rise', '/formulas/6/rise', PHONE, 'dark'],
  ['phone-bench', '/bakes/1', PHONE, 'light', async (page) => {
    await page.waitForTimeout(500);
  }],
  ['sharing', '/sharing', { width: 1280, height: 1300 }, 'light', async (page) => {
    await page.getByLabel('The passphrase', { exact: true }).fill('crumb river ladder nine');
    await page.getByRole('button', { name: 'Set the passphrase' }).click();
    await page.getByRole('button', { name: 'Turn on sharing' }).click();
    await page.locator('svg.qr').waitFor();
    await page.getByRole('button', { name: "Add a helper's device" }).click();
    await page.locator('.share-link svg.qr').waitFor();
  }],
  ['phone-weigh', '/formulas/1/formula', PHONE, 'light', async (page) => {
    const hand = (op) => page.request.post(new URL('/instruments', page.url()).href, { headers: { Origin: new URL(page.url()).origin }, form: { op }, maxRedirects: 0 });
    await page.getByRole('button', { name: 'Bake it now' }).click();
    await page.waitForURL('**/bakes/*');
    await hand('tare');
    await page.waitForTimeout(500);
    await hand('scale:put:388');
    await page.getByText(/1[123] g to go/).waitFor();
    await page.waitForTimeout(2500);
  }],
  // These save something: the pictures before them are of the demo as it comes.
  ['days', '/day', { width: 1280, height: 1250 }, 'light', async (page) => {
    await page.locator('fieldset.days').first().getByText('Tomorrow').click();
    for (const [n, [name, day, time]] of [['Weirside tin loaf', 0, '18:00'], ['Four-strand honey plait', 1, '12:00'], ['Fold-over supper rolls', 1, '18:30']].entries()) {
      await page.getByRole('button', { name: 'Add a dough' }).click();
      await page.waitForFunction((rows) => document.querySelectorAll('.dough-row').length === rows, n + 1);
      const row = page.locator('.dough-row').nth(n);
      await row.getByLabel('Dough').selectOption({ label: name });
      await row.locator('.chip').nth(day).click();
      await row.getByLabel('Time', { exact: true }).fill(time);
    }
    await page.getByRole('button', { name: 'Plan these days' }).click();
    await page.getByRole('button', { name: /^Take this plan/ }).first().click();
    await page.getByRole('link', { name: 'Calendar file' }).waitFor();
  }],
  // Last, for it saves a change: the pictures before it are of the demo as it comes.
  ['versions', '/formulas/1/formula', WIDE, 'light', async (page) => {
    await page.locator('[name="lines.3.grams"]').fill('8.5');
    await page.locator('[name="reason"]').fill('A little less salt, for the soup is salty');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('Saved', { exact: true }).waitFor();
    await page.getByRole('link', { name: 'Versions' }).click();
    await page.locator('[data-test="beside"]').waitFor();
  }],
];

const house = await open('demo', ['--listen', '127.0.0.2']);
for (const [name, path, viewport, colorScheme = 'light', before = async () => {}] of VIEWS) {
  await visit(house, path, viewport, async (page) => {
    await before(page);
    await page.evaluate(() => document.fonts.ready);
    await page.screenshot({ path: `${INTO}${name}.png` });
    // Chosen, so that the bench is not dark where it is taken at night.
  }, { colorScheme, folded: true, storageState: { cookies: [], origins: [{ origin: house.address, localStorage: [{ name: 'cerealis-light', value: colorScheme }] }] } });
}
await house.close();
