// An empty kitchen: from the first page to the first sheet, with the presses counted.

import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { PHONE, WIDE, accessibility, open, visit } from './house.mjs';

const RECIPE = `Grandmother's milk buns
500 g plain white flour
1 sachet dried yeast
a good pinch of salt
60 g sugar
300 ml milk
80 g butter
1 egg, to glaze

Warm the milk to 35 °C. Knead everything for ten minutes by hand. Let it double, about an hour and a quarter. Divide into 10 buns and set them on a baking tray. Leave for 40 minutes. Brush with egg and bake at 190 °C for 17 minutes.`;

for (const [size, viewport] of [['wide', WIDE], ['phone', PHONE]]) {
  describe(`an empty kitchen, on a ${size} page`, () => {
    let house;
    before(async () => { house = await open('serve'); });
    after(async () => { await house.close(); });

    /** A page with its presses counted. The first visit takes the browser's time zone and says so. */
    const begun = async (work) => visit(house, '/formulas', viewport, async (page) => {
      await page.getByRole('heading', { name: 'What would you like to bake?' }).waitFor();
      await page.waitForLoadState('networkidle');
      let presses = 0;
      const press = async (locator) => { presses += 1; await locator.click(); };
      await work(page, press);
      return presses;
    });

    it('is accessible, and a fault of its questions stands at its field', async () => {
      await visit(house, '/formulas', viewport, async (page) => {
        await page.waitForLoadState('networkidle');
        assert.deepEqual(await accessibility(page), []);
        await page.getByLabel('The room has').fill('warm');
        await page.getByRole('button', { name: 'Keep these answers' }).click();
        await page.locator('[data-fault="room"]:visible').waitFor();
        assert.equal(await page.getByLabel('The room has').inputValue(), 'warm');
      }, { expectErrors: true });
    });

    it('four answers are kept, and a recipe in its own words becomes a sheet in ten presses', async () => {
      await begun(async (page, press) => {
        let presses = 0;
        const once = async (locator) => { presses += 1; await press(locator); };
        await once(page.getByLabel('g, °F'));
        await page.getByLabel('The room has').fill('72');
        await once(page.getByRole('button', { name: 'Keep these answers' }));
        await page.getByText('Your kitchen has it').waitFor();
        await page.getByLabel('Paste it here').fill(RECIPE);
        await once(page.getByRole('button', { name: 'Read it' }));
        await once(page.getByRole('button', { name: 'Create the formula' }));
        await page.waitForURL('**/formulas/*/*');
        await once(page.getByRole('link', { name: 'Print sheet' }));
        await page.waitForURL('**/sheet');
        await page.getByText('10 ×').first().waitFor();
        assert.ok(presses <= 10, `${presses} presses`);
      });
    });

    it('examples are put in, marked, and taken out by one press', async () => {
      const other = await open('serve');
      try {
        await visit(other, '/formulas', viewport, async (page) => {
          await page.waitForLoadState('networkidle');
          await page.getByRole('button', { name: 'Load the examples' }).click();
          await page.getByText('7 of these are examples').waitFor();
          assert.equal(await page.locator('.loaf-card .bread').count(), 7);
          await page.getByRole('button', { name: 'Remove the examples' }).click();
          await page.getByRole('heading', { name: 'What would you like to bake?' }).waitFor();
          await page.getByRole('button', { name: /^Rye/ }).click();
          await page.waitForURL('**/formula');
        });
      } finally {
        await other.close();
      }
    });
  });
}
