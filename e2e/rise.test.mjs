// The Rise station in full, and a dough followed as it rises.

import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { PHONE, WIDE, accessibility, open, read, type, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

const value = (page, name) => page.locator(`[name="${name}"]`).inputValue();
const settled = (page, name, wanted) =>
  page.waitForFunction(([n, w]) => document.querySelector(`[data-test="${n}"]`)?.innerText.match(w), [name, wanted]);

for (const [size, viewport, formula] of [['wide', WIDE, 1], ['phone', PHONE, 2]]) {
  describe(`on a ${size} page`, () => {
    it('when to be back, and what makes another time right', async () => {
      await visit(house, `/formulas/${formula}/rise`, viewport, async (page) => {
        assert.match(await read(page, 'bulk-back'), /Look at \d\d:\d\d; it is likely there by \d\d:\d\d\. It bears waiting until/);
        const ready = (await read(page, 'bulk-back')).match(/there by (\d\d):(\d\d)/);
        const later = `${String((Number(ready[1]) + 5) % 24).padStart(2, '0')}:${ready[2]}`;
        await page.locator('[name="back.at"]').fill(later);
        await settled(page, 'back-at', `At ${later} it will`);
        await page.evaluate(() => scrollTo(0, 0));
        assert.deepEqual(await accessibility(page), []);
        await page.locator('[data-op="back:yeast"]').click();
        await settled(page, 'back-at', `At ${later} it is just right`);
        assert.match(await page.locator('[data-saved]').innerText(), /Not saved yet/);
      });
    });

    it('a place by one press, another setting laid over, a night in the fridge', async () => {
      await visit(house, `/formulas/${formula}/rise`, viewport, async (page) => {
        const before = await read(page, 'bulk');
        await page.locator('[data-for="rise.bulk.place"]', { hasText: 'Airing cupboard' }).click();
        await page.waitForFunction((was) => document.querySelector('[data-test="bulk"]').innerText !== was, before);
        assert.equal(await value(page, 'rise.bulk.place'), '26');
        await page.getByText('Lay another setting over it').click();
        await type(page, 'compare.place', '18');
        await settled(page, 'other', 'the bulk rise takes .* more');
        await page.locator('#stays-proof summary').click();
        await type(page, 'rise.proof.legs.0.hours', '12');
        await page.waitForTimeout(700);
        await page.locator('[data-fault="rise.proof.legs.0.place"]', { hasText: 'Give the temperature there.' }).waitFor();
        await type(page, 'rise.proof.legs.0.place', '4');
        // In the fridge it takes hours, as many as the dough has warmth and yeast for.
        await page.waitForFunction(() => /^([4-9]|1\d|2\d) h/.test(document.querySelector('[data-test="proof"]').innerText));
        await page.locator('#table-proof summary').click();
        assert.equal(await page.locator('#table-proof tbody tr').count(), 9);
      });
    });

    it('the target pulled on its curve, the dough and its yeast stepped, a second rise', async () => {
      await visit(house, `/formulas/${formula}/rise`, viewport, async (page) => {
        const grip = page.locator('[data-pull="rise.bulk.target"]:visible');
        await grip.scrollIntoViewIfNeeded();
        const at = await grip.boundingBox();
        const was = await read(page, 'bulk');
        await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
        await page.mouse.down();
        await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2 + 40, { steps: 5 });
        await page.mouse.up();
        assert.ok(Number(await value(page, 'rise.bulk.target')) < 2);
        await page.waitForFunction((old) => document.querySelector('[data-test="bulk"]').innerText !== old, was);
        const rail = await read(page, 'rail-rise');
        await page.getByRole('button', { name: 'A tenth more of it' }).click();
        await page.waitForFunction((old) => document.querySelector('[data-test="rail-rise"]').innerText !== old, rail);
        assert.match(await value(page, 'now.leaven'), /g of yeast/);
        const mix = await read(page, 'rail-mix');
        await page.getByRole('button', { name: 'Dough: half a degree warmer' }).click();
        await page.waitForFunction((old) => document.querySelector('[data-test="rail-mix"]').innerText !== old, mix);
        await page.getByText('A second bulk rise', { exact: true }).click();
        await page.locator('[name="rise.second.target"]').selectOption('1.5');
        await page.getByText('Second rise, 1.5 times its size').waitFor();
        assert.deepEqual(await accessibility(page), []);
      });
    });

    it('a dough is begun, measured, read, questioned, taken back, divided and ended', async () => {
      await visit(house, `/formulas/${formula}/rise`, viewport, async (page) => {
        await page.getByRole('link', { name: 'It is rising already' }).click();
        await page.getByRole('button', { name: 'Start' }).click();
        await page.locator('[data-test="ready"]').waitFor();
        const plan = await read(page, 'ready');
        assert.deepEqual(await accessibility(page), []);
        await type(page, 'measured', '30');
        await page.getByRole('button', { name: 'Measured' }).click();
        await page.waitForFunction((was) => {
          // While the next page comes there is none.
          const ready = document.querySelector('[data-test="ready"]');
          return ready && ready.innerText !== was;
        }, plan);
        await type(page, 'height', '15');
        await page.getByRole('button', { name: 'Save the reading' }).click();
        await page.getByText('Is it the right mark').waitFor();
        assert.equal(await page.locator('.readings li').count(), 1);
        await page.locator('button[value^="take-back"]').click();
        await page.waitForFunction(() => document.querySelector('[data-test="ready"]') && !document.querySelector('.readings li'));
        await page.getByRole('button', { name: 'Divided: the proof begins' }).click();
        await page.getByText('The final proof is ready at').waitFor();
        await page.getByText('Stays', { exact: true }).click();
        await page.getByRole('button', { name: 'Save the reading' }).click();
        await settled(page, 'advice', 'over-proofed');
        await page.getByRole('button', { name: 'Into the oven' }).click();
        // The bench goes on from there.
        await page.waitForURL(/\/bakes\/\d+$/);
        assert.equal(await page.locator('[data-card="proof"]').count(), 0);
      });
    });
  });
}

it('the demo has a dough in mid-rise, its forecast moved by its readings', async () => {
  await visit(house, '/', PHONE, async (page) => {
    await page.getByRole('link', { name: /Overnight no-knead/ }).click();
    await page.getByRole('link', { name: 'The rise in full' }).click();
    assert.match(await page.locator('main').innerText(), /rising/);
    assert.match(await read(page, 'ready'), /^\d\d:\d\d$/);
    assert.equal(await page.locator('.readings li').count(), 2);
  });
});
