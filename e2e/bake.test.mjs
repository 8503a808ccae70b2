// Each main job end to end, on a wide page and on a phone.

import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { PHONE, WIDE, everySetting, moved, open, read, type, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

const station = (page, name) => page.locator(`.rail a[data-station="${name}"]`).click();
const minutes = (text) => {
  const [, hours, rest] = text.match(/^(?:(\d+) h)? ?(?:(\d+)(?: min)?)?$/) ?? assert.fail(`no time: ${text}`);
  return 60 * Number(hours ?? 0) + Number(rest ?? 0);
};

for (const [size, viewport] of [['wide', WIDE], ['phone', PHONE]]) {
  describe(`on a ${size} page`, () => {
    it('a new formula is entered and read at six stations', async () => {
      await visit(house, '/formulas', viewport, async (page) => {
        await page.getByLabel('Name', { exact: true }).fill(`Mill loaf, ${size}`);
        await page.getByLabel('Style').selectOption('tin');
        await page.getByRole('button', { name: 'Create' }).click();
        await page.waitForURL('**/formula');
        await type(page, 'lines.0.grams', '600');
        await type(page, 'lines.1.percent', '66');
        await page.locator('[name="lines.2.grams"]').click();
        await page.waitForFunction(() => document.querySelector('[name="lines.1.grams"]').value === '396');
        await page.getByRole('button', { name: '+ Line in Dough' }).click();
        const fresh = page.locator('[name="lines.5.ingredient"]');
        await page.waitForFunction(() => document.activeElement?.name === 'lines.5.ingredient');
        await fresh.pressSequentially('Sesame seeds');
        await type(page, 'lines.5.percent', '5');
        await page.waitForFunction(() => document.querySelector('[name="lines.5.exact"]').value === '30');
        assert.match(await read(page, 'rail-formula'), /^10\d\d g$/);
        await page.getByText('Not saved yet').waitFor();
        await page.getByRole('button', { name: 'Save', exact: true }).click();
        await page.getByText('Saved', { exact: true }).waitFor();
        await station(page, 'mix');
        assert.match(await read(page, 'water'), /^\d+ °C$/);
        await station(page, 'rise');
        assert.match(await read(page, 'bulk'), /^\d+ (h|min)/);
        await station(page, 'shape');
        assert.match(await read(page, 'pieces'), /^1 × 10\d\d g$/);
        await station(page, 'oven');
        assert.match(await read(page, 'oven'), /^\d+ °C$/);
        assert.match(await read(page, 'bake'), /^\d+ min$/);
        await station(page, 'day');
        assert.match(await read(page, 'ready'), /^\d\d:\d\d$/);
        assert.match(page.url(), /\/day$/);
        await page.reload();
        assert.match(await read(page, 'rail-formula'), /^10\d\d g$/, 'it was saved');
      });
    });

    it('two breads of one dough: each has its own pan, and the egg stays off the one', async () => {
      await visit(house, '/formulas', viewport, async (page) => {
        await page.getByRole('link', { name: /Four-strand honey plait/ }).click();
        await page.waitForURL('**/formula');
        await everySetting(page);
        await station(page, 'shape');
        await page.getByRole('button', { name: 'Add a portion: another bread from this dough' }).click();
        const makeup = page.locator('fieldset.makeup');
        await makeup.getByLabel('Shape').selectOption('tin');
        await makeup.getByLabel('On or in').selectOption('tin');
        await type(page, 'makeups.0.pieces', '1');
        await type(page, 'makeups.0.piece_weight', '400');
        await makeup.getByText('Its strands, pan and cuts').click();
        await makeup.getByLabel("Pan's length, or round").fill('22');
        await makeup.getByLabel('Width').fill('10');
        await makeup.getByLabel('Width').press('Tab');
        await page.locator('[data-test="holder-2"]').getByText('Pan of 22 × 10 cm').waitFor();
        await station(page, 'day');
        const day = page.locator('[data-panel="day"]');
        const step = (text) => day.locator(`:text("${text}"):visible`).first().waitFor();
        await step('Divide: 1 × tin loaf');
        await step('Shape: 1 × tin loaf');
        assert.match(await day.innerText(), /alone: the 1 × tin loaf stay without/);
        await station(page, 'formula');
        await page.getByText('Wash: when, and on which pieces').click();
        await page.locator('[data-stage="wash"] + details').getByLabel('On which pieces').first().selectOption('all');
        await station(page, 'day');
        await step('Wash: 1 × tin loaf');
      });
    });

    it('a pasted recipe becomes a formula', async () => {
      await visit(house, '/formulas', viewport, async (page) => {
        await page.getByRole('link', { name: 'Import a recipe' }).click();
        await page.getByRole('textbox', { name: 'The lines as written or said' }).fill('4 cups flour\n1 1/2 cups lukewarm water\n2 tsp salt\n1 packet instant yeast\n1 egg, for brushing');
        await page.getByRole('button', { name: 'Read' }).click();
        await page.getByText('It may be any of these').waitFor();
        assert.match(await read(page, 'hydration'), /\d+ to \d+ %/);
        await page.getByLabel('Ingredient of “4 cups flour”').fill('Bread flour');
        await page.getByLabel('Grams of “4 cups flour”').fill('540');
        await page.getByLabel('Name of the formula').fill(`Guest loaf, ${size}`);
        await page.getByRole('button', { name: 'Create the formula' }).click();
        await page.waitForURL('**/formula');
        assert.match(await read(page, 'rail-formula'), /^9\d\d g$/);
        assert.equal(await page.locator('[name="lines.0.grams"]').inputValue(), '540');
        await page.getByText('Allergens:').waitFor();
        assert.match(await page.locator('.allergens').innerText(), /egg, gluten/);
      });
    });

    it('a warmer dough moves the rise and the day', async () => {
      await visit(house, '/formulas/1/mix', viewport, async (page) => {
        const [rise, day, water] = await Promise.all(['rise', 'day', 'mix'].map((s) => read(page, `rail-${s}`)));
        await page.getByRole('button', { name: 'Desired dough temperature: more' }).click();
        await page.getByRole('button', { name: 'Desired dough temperature: more' }).click();
        await page.getByRole('button', { name: 'Desired dough temperature: more' }).click();
        await page.getByRole('button', { name: 'Desired dough temperature: more' }).click();
        await page.waitForFunction(() => document.querySelector('[name="mix.desired"]').value === '27');
        const warmer = await moved(page, 'rise', rise);
        assert.ok(minutes(warmer) < minutes(rise), `${warmer} against ${rise}`);
        await moved(page, 'day', day);
        await moved(page, 'mix', water);
        assert.match(await page.locator('.stop[data-station="rise"] .stop-was').innerText(), /^−\d+ min against saved$/);
        await page.getByRole('link', { name: 'Discard changes' }).click();
        await page.waitForFunction(() => document.querySelector('[name="mix.desired"]')?.value === '25');
        assert.equal(await read(page, 'rail-rise'), rise);
      });
    });

    it('a day is planned back from a time', async () => {
      await visit(house, '/formulas/5/day', viewport, async (page) => {
        await page.getByRole('radio', { name: 'Ready at' }).check();
        await page.getByText('Give the day and the time').waitFor();
        await page.getByLabel('or another day').fill('10 May 2031');
        await page.getByLabel('Time', { exact: true }).fill('6 pm');
        await page.waitForFunction(() => document.querySelector('[data-test="ready"]').innerText === '18:00');
        await page.getByText('Sat 10 May').first().waitFor();
        const start = await read(page, 'start');
        assert.match(start, /^1[0-4]:\d\d$/, `a plait ready at six begins around noon, not at ${start}`);
        await page.getByLabel('Start at').check();
        await page.waitForFunction(() => document.querySelector('[data-test="start"]').innerText === '18:00');
      });
    });

    it('scaling to pieces keeps the percentages', async () => {
      await visit(house, '/formulas/2/formula', viewport, async (page) => {
        const salt = await page.locator('[name="lines.3.percent"]').inputValue();
        await page.getByLabel('Pieces', { exact: true }).first().fill('24');
        await page.getByLabel('of dough each, g').fill('60');
        await page.getByRole('button', { name: 'Scale', exact: true }).first().click();
        await page.waitForFunction(() => document.querySelector('[data-test="rail-formula"]').innerText === '1440 g');
        assert.equal(await page.locator('[name="lines.3.percent"]').inputValue(), salt);
        assert.equal(await read(page, 'rail-shape'), '24 × 60 g');
      });
    });

    it('wrong input is answered at its field and nothing typed is lost', async () => {
      await visit(house, '/formulas/1/mix', viewport, async (page) => {
        await type(page, 'mix.desired', 'warm');
        await page.locator('[id="fault-mix.desired"]:visible').waitFor();
        await page.getByRole('button', { name: 'Save', exact: true }).click();
        assert.equal(await page.locator('[name="mix.desired"]').inputValue(), 'warm');
        await type(page, 'mix.desired', '24,5');
        await page.locator('[id="fault-mix.desired"]').waitFor({ state: 'hidden' });
        await page.getByText('Not saved yet').waitFor();
      }, { expectErrors: true });
    });
  });
}

describe('tabs and keys', () => {
  it('two tabs do not overwrite each other silently', async () => {
    await visit(house, '/formulas/6/mix', WIDE, async (first) => {
      const second = await first.context().newPage();
      await second.goto(`${house.address}/formulas/6/mix`);
      await type(first, 'mix.desired', '22');
      await first.getByRole('button', { name: 'Save', exact: true }).click();
      await first.getByText('Saved', { exact: true }).waitFor();
      await type(second, 'mix.desired', '20');
      await second.getByRole('button', { name: 'Save', exact: true }).click();
      await second.getByText('changed in another window').waitFor();
      assert.equal(await second.locator('[name="mix.desired"]').inputValue(), '20');
      await second.getByRole('button', { name: 'Save mine over it' }).click();
      await second.getByText('Saved', { exact: true }).waitFor();
      await first.reload();
      assert.equal(await first.locator('[name="mix.desired"]').inputValue(), '20');
    }, { expectErrors: true });
  });

  it('the keys do what the sheet says', async () => {
    await visit(house, '/formulas/1/formula', WIDE, async (page) => {
      await page.keyboard.press('?');
      await page.getByRole('heading', { name: 'Keyboard shortcuts' }).waitFor();
      await page.keyboard.press('Escape');
      await page.keyboard.press('Alt+5');
      await page.waitForURL('**/oven');
      assert.match(await read(page, 'oven'), /°C/);
      await page.goBack();
      await page.waitForFunction(() => !document.querySelector('[data-panel="formula"]').hidden);
      await page.keyboard.press('Alt+2');
      await page.locator('[name="mix.desired"]').waitFor();
      await page.locator('[name="mix.desired"]').focus();
      await page.keyboard.press('ArrowUp');
      assert.equal(await page.locator('[name="mix.desired"]').inputValue(), '25.5');
      await page.keyboard.press('Control+s');
      await page.getByText('Saved', { exact: true }).waitFor();
      await page.keyboard.press('ArrowDown');
      await page.keyboard.press('Control+s');
      await page.getByText('Saved', { exact: true }).waitFor();
    });
  });

  it('a deleted formula comes back with Undo', async () => {
    await visit(house, '/formulas', WIDE, async (page) => {
      await page.getByRole('button', { name: 'Copy Walkers\' rye buns' }).click();
      await page.waitForURL('**/formula');
      await page.goto(`${house.address}/formulas`);
      await page.getByRole('button', { name: 'Delete Walkers\' rye buns, copy' }).click();
      await page.getByText('is deleted').waitFor();
      await page.getByRole('button', { name: 'Undo' }).click();
      await page.getByRole('link', { name: 'Walkers\' rye buns, copy' }).waitFor();
    });
  });

  it('the kitchen is changed and moves the figures', async () => {
    await visit(house, '/formulas/7/mix', PHONE, async (page) => {
      const water = await read(page, 'rail-mix');
      await page.goto(`${house.address}/kitchen`);
      await type(page, 'room', '26');
      await page.getByRole('button', { name: 'Save' }).click();
      await page.getByText('Saved', { exact: true }).waitFor();
      await page.goto(`${house.address}/formulas/7/mix`);
      assert.notEqual(await read(page, 'rail-mix'), water);
      await page.goto(`${house.address}/kitchen`);
      await type(page, 'room', 'hot');
      await page.getByRole('button', { name: 'Save' }).click();
      await page.getByText('This is not a temperature').waitFor();
      assert.equal(await page.locator('[name="room"]').inputValue(), 'hot');
    }, { expectErrors: true });
  });

  it('without scripts every station can be read, changed and saved', async () => {
    await visit(house, '/formulas/4/mix', WIDE, async (page) => {
      await page.locator('[name="mix.desired"]').fill('28');
      await page.locator('[data-save]').click();
      await page.waitForURL('**/mix');
      assert.equal(await page.locator('[name="mix.desired"]').inputValue(), '28');
      await page.locator('.rail a[data-station="day"]').click();
      await page.waitForURL('**/day');
      assert.match(await read(page, 'ready'), /^\d\d:\d\d$/);
    }, { javaScriptEnabled: false });
  });
});
