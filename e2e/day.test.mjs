// Several doughs planned together: asked, offered, taken, put into a calendar.

import { after, before, describe, it } from 'node:test';
import assert from 'node:assert/strict';
import { PHONE, WIDE, accessibility, open, visit } from './house.mjs';

for (const [where, viewport] of [['on a wide page', WIDE], ['on a phone page', PHONE]]) {
  describe(`the day of several doughs, ${where}`, () => {
    let house;
    before(async () => { house = await open(); });
    after(() => house.close());

    /** Adds a dough, wanted on the nth day of the plan. */
    async function dough(page, name, day, time) {
      const rows = page.locator('.dough-row');
      const count = await rows.count();
      await page.getByRole('button', { name: 'Add a dough' }).click();
      await page.waitForFunction((n) => document.querySelectorAll('.dough-row').length === n, count + 1);
      const row = rows.nth(count);
      await row.getByLabel('Dough').selectOption({ label: name });
      await row.locator('.chip').nth(day).click();
      await row.getByLabel('Time', { exact: true }).fill(time);
    }

    it('two doughs are planned round the night, one of the plans is taken, and goes into a calendar', async () => {
      await visit(house, '/day', viewport, async (page) => {
        await page.getByText('add each dough and say when it is wanted').waitFor();
        assert.deepEqual(await accessibility(page), []);
        await page.locator('fieldset.days').first().getByText('Tomorrow').click();
        await page.getByLabel('For how many days').selectOption('2');
        await dough(page, 'Weirside tin loaf', 0, '6 pm');
        await dough(page, 'Fold-over supper rolls', 1, '18:30');
        await page.getByRole('button', { name: 'Plan these days' }).click();
        await page.getByRole('heading', { name: /Plans? to choose from|The plan/ }).waitFor();
        const offers = page.locator('.offer');
        assert.ok(await offers.count() >= 1);
        assert.match(await offers.first().locator('[data-test="holds"]').innerText(), /Holds on/);
        assert.ok(await offers.first().locator('svg.days-picture').isVisible());
        assert.deepEqual(await accessibility(page), []);
        await offers.first().getByRole('button', { name: /^Take this plan/ }).click();
        await page.getByRole('link', { name: 'Calendar file' }).waitFor();
        const steps = page.locator('.day li.hands');
        assert.ok(await steps.count() > 10);
        const file = await page.evaluate(async () => (await fetch('/day/calendar.ics')).text());
        assert.match(file, /^BEGIN:VCALENDAR\r\n/);
        assert.equal((file.match(/BEGIN:VEVENT/g) ?? []).length, await steps.count());
        await page.reload();
        assert.ok(await page.locator('.day li.hands').count() > 10, 'a reload chooses no other');
        assert.deepEqual(await accessibility(page), []);
        await page.getByText('It goes otherwise').click();
        await page.getByRole('button', { name: '20 minutes late' }).click();
        await page.locator('.since').getByText(/No hands until .*planned again/).waitFor();
        assert.match(await page.evaluate(async () => (await fetch('/day/calendar.ics')).text()), /SEQUENCE:1\r\n/);
        await page.getByRole('button', { name: 'Plan again' }).click();
        await page.locator('.offer').first().waitFor();
      });
    });

    it('a wish that cannot be is said, with the nearest plan, and a fault stands at its field', async () => {
      await visit(house, '/day', viewport, async (page) => {
        const row = page.locator('.dough-row').first();
        await row.locator('.chip').first().click();
        await row.getByLabel('Time', { exact: true }).fill('5:00');
        await row.getByText('What may not be changed').click();
        for (const pin of ['Not into the fridge', 'Yeast as written', 'Place as written']) await row.getByLabel(pin).check();
        await page.getByRole('button', { name: 'Plan these days' }).click();
        await page.locator('[data-test="gives-up"]').waitFor();
        assert.match(await page.locator('[data-test="gives-up"]').innerText(), /gives up/);
        await page.locator('.dough-row').first().getByLabel('Time', { exact: true }).fill('later');
        await page.getByRole('button', { name: 'Plan these days' }).click();
        await page.getByText('Give a time of day').waitFor();
        assert.equal(await page.locator('.dough-row').first().getByLabel('Time', { exact: true }).inputValue(), 'later');
      }, { expectErrors: true });
    });
  });
}
