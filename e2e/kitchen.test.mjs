// The kitchen: each change saved by itself with undo, rows in place, and its own notation on every page.

import { after, before, describe, it } from 'node:test';
import assert from 'node:assert/strict';
import { PHONE, WIDE, accessibility, open, read, tour, visit } from './house.mjs';

const saved = (page) => page.waitForFunction(() => document.querySelector('[data-saved]').textContent === 'Saved');
const value = (page, name) => page.locator(`[name="${name}"]`).inputValue();

for (const [where, viewport] of [['on a wide page', WIDE], ['on a phone page', PHONE]]) {
  describe(`the kitchen, ${where}`, () => {
    let house;
    before(async () => { house = await open(); });
    after(() => house.close());

    it('each change is saved by itself and can be undone', async () => {
      await visit(house, '/kitchen', viewport, async (page) => {
        const was = await value(page, 'room');
        await page.locator('[name="room"]').fill('23,5');
        await page.locator('[name="room"]').press('Tab');
        await saved(page);
        await page.reload();
        assert.equal(await value(page, 'room'), '23.5');
        await page.locator('[name="room"]').fill('24');
        await page.locator('[name="room"]').press('Tab');
        await saved(page);
        await page.getByRole('button', { name: 'Undo' }).click();
        await page.waitForFunction(() => document.querySelector('[name="room"]').value === '23.5');
        await saved(page);
        await page.reload();
        assert.equal(await value(page, 'room'), '23.5');
        await page.locator('[name="room"]').fill(was);
        await page.locator('[name="room"]').press('Tab');
        await saved(page);
      });
    });

    it('a row comes, is filled, and goes, without losing what is half typed elsewhere', async () => {
      await visit(house, '/kitchen', viewport, async (page) => {
        const places = await page.locator('[name^="places."][name$=".name"]').count();
        await page.getByRole('button', { name: 'Add a place' }).click();
        const name = page.locator('[name^="places."][name$=".name"]').nth(places);
        await name.fill('Boiler room');
        await name.press('Tab');
        await page.keyboard.type('29');
        await page.keyboard.press('Tab');
        await saved(page);
        await page.reload();
        assert.equal(await page.locator('[name^="places."][name$=".name"]').count(), places + 1);
        await page.getByRole('button', { name: 'Remove Boiler room' }).click();
        await saved(page);
        await page.reload();
        assert.equal(await page.locator('[name^="places."][name$=".name"]').count(), places);
      });
    });

    it('hours away and a late night are rows, and a fault stands at its field', async () => {
      await visit(house, '/kitchen', viewport, async (page) => {
        await page.getByRole('button', { name: 'Add hours away' }).click();
        const row = page.locator('.away-row').last();
        await row.getByLabel('Away', { exact: true }).fill('Office');
        await row.getByText('Fri').click();
        await row.getByLabel('From', { exact: true }).fill('9');
        await row.getByLabel('to', { exact: true }).fill('half past');
        await row.getByLabel('to', { exact: true }).press('Tab');
        await page.getByRole('button', { name: 'Save' }).click();
        await row.getByLabel('to', { exact: true }).fill('5:30 pm');
        await row.getByLabel('to', { exact: true }).press('Tab');
        await saved(page);
        await page.reload();
        const kept = page.locator('.away-row').last();
        assert.equal(await kept.getByLabel('From', { exact: true }).inputValue(), '09:00');
        assert.equal(await kept.getByLabel('to', { exact: true }).inputValue(), '17:30');
        await page.getByRole('button', { name: 'Remove Office' }).click();
        await saved(page);
        assert.deepEqual(await accessibility(page), []);
      }, { expectErrors: true });
    });

    it('a second pair of hands comes by the week, and a culture is fed before a bake', async () => {
      await visit(house, '/kitchen', viewport, async (page) => {
        await page.getByLabel('A culture is fed before it raises a dough').selectOption({ label: 'twice' });
        await page.getByRole('button', { name: 'Add a second pair of hands' }).click();
        const row = page.locator('.away-row').last();
        await row.getByLabel('Who helps').fill('The children');
        await row.getByText('Sat').click();
        await row.getByLabel('From', { exact: true }).fill('14');
        await row.getByLabel('to', { exact: true }).fill('18');
        await row.getByLabel('to', { exact: true }).press('Tab');
        await saved(page);
        await page.reload();
        const kept = page.locator('.away-row').last();
        assert.equal(await kept.getByLabel('Who helps').inputValue(), 'The children');
        assert.equal(await kept.getByRole('checkbox', { name: 'Sat' }).isChecked(), true);
        assert.equal(await page.getByLabel('A culture is fed before it raises a dough').inputValue(), '2');
        await page.getByRole('button', { name: 'Remove The children' }).click();
        await page.getByLabel('A culture is fed before it raises a dough').selectOption({ label: 'not at all' });
        await saved(page);
        assert.deepEqual(await accessibility(page), []);
      }, { expectErrors: true });
    });

    it('what has a fault waits, and keeps nothing else from being saved', async () => {
      await visit(house, '/kitchen', viewport, async (page) => {
        const was = await value(page, 'tap');
        await page.locator('[name="tap"]').fill('cold');
        await page.locator('[name="room"]').fill('23');
        await page.locator('[name="room"]').press('Tab');
        await page.getByText('Saved, but for what is marked').waitFor();
        assert.match(await page.locator('[data-fault="tap"]').innerText(), /not a temperature/);
        assert.deepEqual(await accessibility(page), []);
        await page.locator('[name="tap"]').fill(was);
        await page.locator('[name="tap"]').press('Tab');
        await saved(page);
        await page.reload();
        assert.deepEqual([await value(page, 'tap'), await value(page, 'room')], [was, '23']);
      });
    });

    it('a kitchen in °F, ounces and inches has them in fields, answers and pictures', async () => {
      await visit(house, '/kitchen', viewport, async (page) => {
        for (const label of ['°F', 'oz, with g beside', 'inches', '5:30 pm']) {
          await Promise.all([page.waitForEvent('load'), page.getByLabel(label, { exact: true }).check()]);
        }
        assert.match(await value(page, 'sleep_from'), /pm$/);
        assert.deepEqual(await accessibility(page), []);
      });
      await visit(house, '/formulas/1/mix', viewport, async (page) => {
        await page.locator('[name="mix.desired"]').fill('79');
        await page.waitForFunction(() => /79 °F/.test(document.querySelector('[data-out="mix"]').innerText));
        assert.match(await read(page, 'water'), /°F$/);
        const text = await page.locator('[data-panel="mix"]').innerText();
        assert.ok(!text.includes('°C'), text.slice(Math.max(0, text.indexOf('°C') - 60), text.indexOf('°C') + 10));
        await page.getByRole('button', { name: 'Save' }).click();
        await page.waitForFunction(() => document.querySelector('[data-saved]').textContent === 'Saved');
        await page.reload();
        assert.equal(await value(page, 'mix.desired'), '79', 'what was typed is what is shown');
      });
      const looks = await tour(house, viewport);
      for (const station of ['formula', 'rise', 'shape', 'oven', 'day']) {
        await looks.see(`/formulas/1/${station}`, async (page) => {
          assert.equal(await page.locator('[data-saved]').innerText(), 'Saved');
          const text = await page.locator(`[data-panel="${station}"]`).evaluate((panel) => {
            const copy = panel.cloneNode(true);
            for (const own of copy.querySelectorAll('[data-own], textarea')) own.remove();
            return copy.textContent;
          });
          assert.ok(!text.includes('°C'), text.slice(Math.max(0, text.indexOf('°C') - 60), text.indexOf('°C') + 10));
          assert.ok(!/\d cm\b/.test(text), 'a length in cm');
          assert.ok(!/\b([01]\d|2[0-3]):[0-5]\d\b(?! [ap]m)/.test(text.replace(/\d+:\d\d\s[ap]m/g, '')), 'a time of 24 hours');
        });
      }
      await looks.close();
    });
  });
}
