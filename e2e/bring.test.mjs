// Any recipe in: pasted, from a file, corrected line by line; the cupboard; the list.

import assert from 'node:assert/strict';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { PHONE, WIDE, accessibility, open, type, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

const PAGE = `Honey wheat rolls
3 cups flour, plus more for dusting
1 cup whole weat flower
1 (1/4-oz) envelope yeast
a cup and a half of lukewarm milk
2 tsp salt
2 tablespoons moon powder
Method
Mix everything in a stand mixer and knead 8 to 10 minutes.
Let rise until doubled, about 1 hour.
Divide into 12 rolls and place on a baking sheet. Let rise 40 minutes.
Bake at 375 F for 18 to 20 minutes.`;

const value = (page, name) => page.locator(`[name="${name}"]`).inputValue();
const press = async (page, name) => {
  await page.getByRole('button', { name, exact: true }).first().click();
  await page.waitForLoadState();
};

for (const [size, viewport] of [['wide', WIDE], ['phone', PHONE]]) {
  describe(`bringing in, on a ${size} page`, () => {
    it('a page of kitchen English becomes a formula, every doubt answered by a press', async () => {
      await visit(house, '/formulas/bring', viewport, async (page) => {
        await page.locator('#text').fill(PAGE);
        await press(page, 'Read');
        assert.equal(await value(page, 'name'), 'Honey wheat rolls');
        assert.equal(await value(page, 'style'), 'soft-roll', 'the pieces tell of the style');
        const doubt = await page.locator('[data-test="hydration"]').innerText();
        assert.match(doubt, /\d+ to \d+ %.*4 lines are in doubt/s);
        assert.deepEqual(await accessibility(page), []);
        await page.locator('button[value="pick:0:bread-flour"]').click();
        await page.waitForFunction(() => document.querySelector('[name="rows.0.ingredient"]')?.value === 'Bread flour');
        assert.equal(await value(page, 'rows.0.grams'), '411', 'three cups of bread flour, 137 g each');
        await page.locator('button[value="pick:2:whole-wheat-flour"]').click();
        await page.waitForFunction(() => document.querySelector('[name="rows.2.grams"]')?.value === '120');
        await page.locator('button[value="pick:3:instant-yeast"]').click();
        await page.waitForLoadState();
        await page.locator('button[value="new:6"]').click();
        await page.waitForFunction(() => document.querySelector('[name="rows.6.like"]'));
        await type(page, 'rows.6.ingredient', `Moon powder ${size}`);
        await press(page, 'Create the formula');
        await page.getByText('Pick the ingredient of the catalogue that it is most like.').waitFor();
        await type(page, 'rows.6.like', 'Milk powder');
        await page.locator('button[value="weigh:6"]').click();
        await page.waitForFunction(() => document.querySelector('[name="rows.6.grams"]')?.value);
        await press(page, 'Create the formula');
        await page.waitForURL(/\/formulas\/\d+\/formula/);
        assert.equal(await value(page, 'shape.pieces'), '12');
        assert.equal(await value(page, 'shape.kind'), 'roll');
        assert.equal(await value(page, 'oven.temperature'), '191');
        assert.equal(await value(page, 'mix.method'), 'mixer');
        assert.match(await value(page, 'notes'), /Let rise 40 minutes/);
        assert.match(await value(page, 'said'), /"what":"bake","low":18\.0,"high":20\.0/, 'what the recipe says of the bake is kept');
        await page.goto(page.url().replace(/formula$/, 'rise'));
        assert.match(await page.locator('[data-test="bulk-recipe"]').innerText(), /The recipe says .*; here likely .* because the dough is at/);
        await page.locator('[data-op="follow:bulk"]').click();
        await page.locator('[data-op="unfollow:bulk"]').waitFor();
        assert.ok(await value(page, 'rise.bulk.stays'), 'it stays as long as the recipe says');
        await page.locator('[data-op="unfollow:bulk"]').click();
        await page.locator('[data-op="follow:bulk"]').waitFor();
        await page.goto(page.url().replace(/rise$/, 'formula'));
        const names = await page.locator('[name$=".ingredient"]').evaluateAll((all) => all.map((one) => one.value));
        assert.ok(names.includes(`Moon powder ${size}`) && names.includes('Whole-wheat flour'), names.join());
      }, { expectErrors: true });
    });

    it('a file is opened, and one that is too large is refused at its button', async () => {
      await visit(house, '/formulas/bring', viewport, async (page) => {
        const file = join(house.folder, 'recipe.json');
        writeFileSync(file, JSON.stringify({ '@graph': [{ '@type': 'Recipe', name: 'From a file', recipeIngredient: ['500 g bread flour', '320 g water'], recipeYield: '2 loaves' }] }));
        await page.locator('[data-file]').setInputFiles(file);
        await page.waitForFunction(() => document.querySelector('#name')?.value === 'From a file');
        assert.equal(await value(page, 'rows.1.ingredient'), 'Water');
        const large = join(house.folder, 'large.txt');
        writeFileSync(large, 'x'.repeat(1024 * 1024 + 1));
        await page.locator('[data-file]').setInputFiles(large);
        await page.getByText('is larger than 1024 kB').waitFor();
      });
    });

    it('an own flour and a price come to what a loaf costs', async () => {
      await visit(house, '/cupboard', viewport, async (page) => {
        await page.getByRole('link', { name: 'New ingredient of your own' }).click();
        await type(page, 'name', `Stone mill ${size}`);
        await type(page, 'protein', '13,4');
        await press(page, 'Recalculate');
        assert.match(await page.locator('.own-grid').innerText(), /13\.4 g/);
        await page.getByText('More figures').click();
        await type(page, 'water', '99');
        await press(page, 'Save');
        await page.locator('#fault-water', { hasText: 'add up to' }).waitFor();
        assert.equal(await value(page, 'protein'), '13,4', 'nothing typed is lost');
        await type(page, 'water', '13');
        await press(page, 'Save');
        await page.getByRole('link', { name: `Stone mill ${size}` }).waitFor();
        const key = `own-stone-mill-${size}`;
        await type(page, `prices.${key}`, 'dear');
        await press(page, 'Save');
        await page.getByText('This is not a number').waitFor();
        assert.deepEqual(await accessibility(page), []);
        await type(page, `prices.${key}`, '2.5');
        await press(page, 'Save');
        await page.goto(`${house.address}/formulas/1/formula`);
        await type(page, 'lines.0.ingredient', `Stone mill ${size}`);
        await page.getByText('What it feeds, costs, and how it keeps').click();
        // Half a kilogram of flour at 2.50 leaves its mark on the whole.
        await page.waitForFunction(() => /1\.\d\d £ in all/.test(document.querySelector('[data-test="costs"]').innerText));
      }, { expectErrors: true });
    });

    it('formulas are searched, sorted, archived and restored', async () => {
      await visit(house, '/formulas', viewport, async (page) => {
        /** A press that leads to a page of its own, until that is there. */
        const on = (work) => Promise.all([page.waitForEvent('load'), work()]);
        const names = () => page.locator('.loaf-name').allInnerTexts();
        await type(page, 'q', 'caraway');
        await on(() => press(page, 'Search'));
        assert.deepEqual(await names(), ["Walkers' rye buns"], 'by an ingredient');
        await on(() => page.getByRole('link', { name: 'Show all' }).click());
        await page.locator('#tag').selectOption('toast');
        await page.locator('#sort').selectOption('hydration');
        await on(() => press(page, 'Search'));
        const toast = await names();
        assert.equal(toast.length, 2);
        assert.match(toast[0], /Sorghum/, 'the wettest first');
        await on(() => press(page, `Archive ${toast[0]}`));
        assert.ok(!(await names()).includes(toast[0]));
        await on(() => page.getByRole('link', { name: '1 in the archive' }).click());
        assert.deepEqual(await accessibility(page), []);
        await on(() => press(page, `Restore ${toast[0]}`));
        await page.goto(`${house.address}/formulas`);
        assert.ok((await names()).includes(toast[0]));
      });
    });
  });
}

it('an own ingredient in use is not deleted, another is, with undo', async () => {
  await visit(house, '/cupboard/own/own-valley-mill-white', WIDE, async (page) => {
    await press(page, 'Delete Valley mill white');
    await page.getByText('“Valley mill white” is deleted.').waitFor();
    await press(page, 'Undo');
    await page.getByRole('link', { name: 'Valley mill white' }).waitFor();
    await page.goto(`${house.address}/formulas/6/formula`);
    await type(page, 'lines.0.ingredient', 'Valley mill white');
    await press(page, 'Save');
    await page.locator('[data-saved]', { hasText: /^Saved$/ }).waitFor();
    await page.goto(`${house.address}/cupboard/own/own-valley-mill-white`);
    await press(page, 'Delete Valley mill white');
    await page.getByText('is used by “Overnight no-knead round”').waitFor();
  }, { expectErrors: true });
});
