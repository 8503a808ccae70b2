// The Formula station in full: slips mended, swaps looked at and accepted, every way to scale.

import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { PHONE, WIDE, accessibility, open, read, type, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

const value = (page, name) => page.locator(`[name="${name}"]`).inputValue();
const press = (page, name) => page.getByRole('button', { name, exact: true }).click();
const until = (page, name, wanted) => page.waitForFunction(([n, w]) => document.querySelector(`[name="${n}"]`)?.value === w, [name, wanted]);

for (const [size, viewport] of [['wide', WIDE], ['phone', PHONE]]) {
  describe(`on a ${size} page`, () => {
    it('a slip is mended in one press, another is meant', async () => {
      await visit(house, '/formulas/1/formula', viewport, async (page) => {
        await type(page, 'lines.3.grams', '27');
        await page.locator('[data-slip="salt-spoon"]').waitFor();
        assert.deepEqual(await accessibility(page), []);
        await press(page, 'Use 9 g');
        await until(page, 'lines.3.grams', '9');
        assert.equal(await page.locator('[data-slip]').count(), 0);
        await type(page, 'lines.3.grams', '11');
        await page.locator('[data-slip="salt-unusual"]').waitFor();
        await press(page, 'Keep it so');
        await page.getByText('Meant so:').waitFor();
        assert.equal(await page.locator('[data-slip]').count(), 0);
        await press(page, 'Warn again');
        await page.locator('[data-slip="salt-unusual"]').waitFor();
      });
    });

    it('a swap shows what it changes before it is accepted', async () => {
      await visit(house, '/formulas/2/formula', viewport, async (page) => {
        await page.getByText('Swap something').click();
        await press(page, 'Butter to vegetable oil');
        const shown = page.locator('[data-test="swap"]');
        await shown.waitFor();
        assert.match(await shown.innerText(), /Vegetable oil/);
        // The rail stays at the top while the page moves under it: scanned where it covers nothing.
        await page.evaluate(() => scrollTo(0, 0));
        assert.deepEqual(await accessibility(page), []);
        assert.equal(await value(page, 'lines.6.ingredient'), 'Butter', 'nothing is changed yet');
        await press(page, 'Dismiss');
        await shown.waitFor({ state: 'detached' });
        await press(page, 'Butter to vegetable oil');
        await press(page, 'Accept the swap');
        await page.waitForFunction(() => [...document.querySelectorAll('[list=catalogue]')].some((i) => i.value === 'Vegetable oil'));
        const names = await page.locator('[name$=".ingredient"]').evaluateAll((all) => all.map((one) => one.value));
        assert.ok(!names.includes('Butter'));
      });
    });

    it('one flour is typed for another, and a wrong name is told at its field', async () => {
      await visit(house, '/formulas/1/formula', viewport, async (page) => {
        await page.getByText('This for that').click();
        await type(page, 'swap.from', 'Bread flour');
        await type(page, 'swap.to', 'Sawdust');
        await press(page, 'Preview');
        await page.locator('[data-fault="swap.to"]', { hasText: 'Pick a name from the list.' }).waitFor();
        await type(page, 'swap.to', 'White spelt flour');
        await press(page, 'Preview');
        await page.locator('[data-test="swap"]', { hasText: 'drinks less' }).waitFor();
      });
    });

    it('a batch is scaled to pans and to what runs out first', async () => {
      await visit(house, '/formulas/1/formula', viewport, async (page) => {
        await page.getByText('Fill pans').click();
        await type(page, 'scale.pan.0', '2');
        await press(page, 'Scale to the pans');
        await page.waitForFunction(() => document.querySelector('[name="shape.pieces"]').value === '2');
        assert.match(await read(page, 'rail-formula'), /^16\d\d g$/);
        await page.getByText('Whatever runs out first').click();
        await type(page, 'scale.have.bread-flour', '200');
        await press(page, 'Scale to what there is');
        await until(page, 'lines.0.grams', '200');
        await press(page, 'Round to 1 g');
        await page.waitForFunction(() => /^\d+$/.test(document.querySelector('[name="lines.2.exact"]').value));
      });
    });

    it('a slow answer is not overtaken by an older one', async () => {
      await visit(house, '/formulas/1/formula', viewport, async (page) => {
        const slow = { 'op=scale': 500, 'ways=1': 1200 };
        await page.route('**/preview', async (route) => {
          const asks = Object.keys(slow).find((what) => route.request().postData().includes(what));
          if (asks) await new Promise((go) => setTimeout(go, slow[asks]));
          await route.continue();
        });
        await page.getByText('Fill pans').click();
        const told = page.waitForResponse('**/preview');
        await type(page, 'scale.pan.0', '2');
        await told;
        await press(page, 'Scale to the pans');
        await page.waitForFunction(() => document.querySelector('[name="shape.pieces"]').value === '2');
        const scaled = await read(page, 'rail-formula');
        assert.match(scaled, /^16\d\d g$/);
        // Longer than the slowest answer.
        await page.waitForTimeout(2000);
        assert.equal(await read(page, 'rail-formula'), scaled);
        await page.locator('a[data-station="day"]').click();
        await page.locator('[data-panel="day"]:visible').waitFor();
        assert.equal(await read(page, 'rail-formula'), scaled);
      });
    });

    it('a poolish is added, sized, and takes its flour from the dough', async () => {
      await visit(house, '/formulas/1/formula', viewport, async (page) => {
        const before = await read(page, 'rail-formula');
        await page.getByRole('button', { name: 'Poolish', exact: true }).click();
        await page.getByText('Poolish: time, place, size').click();
        await type(page, 'size.poolish', '20');
        await press(page, 'Calculate');
        await page.waitForFunction(() => document.querySelectorAll('[data-stage=poolish] tbody input[list]').length >= 3);
        assert.equal(await value(page, 'lines.0.grams'), '90');
        assert.equal(await read(page, 'rail-formula'), before, 'the whole stays');
        await page.locator('.rail a[data-station="rise"]').click();
        assert.match(await read(page, 'ahead'), /^Poolish, 1\d\d g: ripe in/);
      });
    });

    it('a saved change is a version with its reason, and can be gone back from', async () => {
      await visit(house, '/formulas/6/formula', viewport, async (page) => {
        const was = await value(page, 'lines.0.grams');
        await type(page, 'lines.0.grams', '460');
        await type(page, 'reason', `for the ${size} pot`);
        await press(page, 'Save');
        await page.getByText('Saved', { exact: true }).waitFor();
        await page.getByRole('link', { name: 'Versions' }).click();
        await page.getByText(`for the ${size} pot`).waitFor();
        assert.match(await read(page, 'beside'), /Bread flour/);
        const back = page.getByRole('button', { name: /^Restore version/ }).first();
        await back.click();
        await page.waitForURL('**/formula');
        assert.equal(await value(page, 'lines.0.grams'), was);
      });
    });

    it('tells what a piece feeds', async () => {
      await visit(house, '/formulas/2/formula', viewport, async (page) => {
        await page.getByText('What it feeds, costs, and how it keeps').click();
        assert.match(await read(page, 'feeds'), /Energy\s+\d{3} kcal, \d{4} kJ\s+\d{3} kcal/);
        await page.evaluate(() => scrollTo(0, 0));
        assert.deepEqual(await accessibility(page), []);
      });
    });

    it('one dough becomes two things', async () => {
      await visit(house, '/formulas/1/shape', viewport, async (page) => {
        await press(page, 'Add a portion: another bread from this dough');
        await page.getByRole('rowheader', { name: /^Bun/ }).first().waitFor();
        await page.evaluate(() => scrollTo(0, 0));
        assert.deepEqual(await accessibility(page), []);
        await page.locator('.rail a[data-station="oven"]').click();
        await page.locator('[data-out="oven"]').getByRole('rowheader', { name: /^Bun/ }).waitFor();
      });
    });
  });
}
