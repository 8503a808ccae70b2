// What holds when something goes wrong: another zone, another tab, a file that is held, undo, focus.

import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { PHONE, WIDE, moved, open, read, tour, type, visit } from './house.mjs';

describe('holding on', () => {
  let house;
  before(async () => {
    house = await open();
  });
  after(() => house.close());

  it('a button is taken back, and focus stays where hands are', async () => {
    await visit(house, '/formulas/1/formula', WIDE, async (page) => {
      const flour = page.locator('[name="lines.0.grams"]');
      const was = await flour.inputValue();
      await page.getByLabel('Dough, g', { exact: true }).isVisible();
      await page.locator('#scale-more summary').click();
      await type(page, 'scale.factor', '2');
      await page.locator('[data-op="scale:factor"]').click();
      await page.waitForFunction((w) => document.querySelector('[name="lines.0.grams"]').value !== w, was);
      assert.equal(Number(await flour.inputValue()), 2 * Number(was));
      await page.getByRole('button', { name: 'Undo' }).click();
      await page.waitForFunction((w) => document.querySelector('[name="lines.0.grams"]').value === w, was);
      await page.locator('[data-op="remove:1"]').focus();
      await page.keyboard.press('Enter');
      await page.waitForFunction(() => document.activeElement?.name === 'lines.1.ingredient');
    });
  });

  it('one step back is one change, in a field and after it', async () => {
    await visit(house, '/formulas/1/formula', WIDE, async (page) => {
      const flour = page.locator('[name="lines.0.grams"]');
      const salt = page.locator('[name="lines.2.grams"]');
      const [was, salted] = [await flour.inputValue(), await salt.inputValue()];
      const stands = (name, value) => page.waitForFunction(([n, v]) => document.querySelector(`[name="${n}"]`).value === v, [name, value]);
      // While it is typed: all of it, and not its letters.
      await flour.click({ clickCount: 3 });
      await page.keyboard.type('620');
      await page.keyboard.press('Control+z');
      await stands('lines.0.grams', was);
      // Once it is left: the same, from the next field.
      await flour.click({ clickCount: 3 });
      await page.keyboard.type('620');
      await page.keyboard.press('Tab');
      await salt.click({ clickCount: 3 });
      await page.keyboard.type('13');
      await page.keyboard.press('Tab');
      await page.keyboard.press('Control+z');
      await stands('lines.2.grams', salted);
      assert.equal(await flour.inputValue(), '620');
      await page.keyboard.press('Control+z');
      await stands('lines.0.grams', was);
      // No more than there was.
      await page.keyboard.press('Control+z');
      await stands('lines.0.grams', was);
      assert.equal(await salt.inputValue(), salted);
    });
  });

  it('what moved is said in one polite sentence', async () => {
    await visit(house, '/formulas/1/rise', WIDE, async (page) => {
      await page.locator('[name="rise.bulk.target"]').selectOption('2.5');
      const says = page.locator('[data-says]');
      await page.waitForFunction(() => document.querySelector('[data-says]').textContent.includes('Rise'));
      assert.match(await says.innerText(), /Rise .* against saved/);
      assert.equal(await says.getAttribute('role'), 'status');
    });
  });

  it('a file that another program holds is waited for, and the save comes by itself', async () => {
    const held = spawn('python3', ['-c', `
import sqlite3, sys
c = sqlite3.connect(sys.argv[1], isolation_level=None)
c.execute("BEGIN IMMEDIATE")
print("held", flush=True)
sys.stdin.readline()
c.execute("ROLLBACK")
`, join(house.folder, 'demo.sqlite')]);
    await new Promise((resolve) => held.stdout.once('data', resolve));
    await visit(house, '/formulas/4/formula', PHONE, async (page) => {
      await type(page, 'name', 'Held rye');
      await page.getByRole('button', { name: 'Save', exact: true }).first().click();
      await page.getByText('Another program holds').waitFor();
      assert.equal(await page.locator('[name="name"]').inputValue(), 'Held rye');
      held.stdin.end('\n');
      await page.locator('[data-saved]', { hasText: /^Saved$/ }).waitFor();
      await page.goto(`${house.address}/formulas/4/formula`);
      assert.equal(await page.locator('[name="name"]').inputValue(), 'Held rye');
    }, { expectErrors: true });
  });

  it('no page scrolls sideways at 320 px, and the rail gives way in a low window', async () => {
    const looks = await tour(house, { width: 320, height: 640 });
    for (const path of ['/formulas', '/formulas/1/formula', '/formulas/1/rise', '/formulas/5/oven', '/formulas/1/day', '/kitchen', '/cupboard', '/formulas/bring', '/formulas/1/versions']) {
      await looks.see(path, async (page) => {
        const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
        assert.ok(over <= 0, `${path} is ${over} px too wide`);
      });
    }
    await looks.close();
    await visit(house, '/formulas/1/rise', { width: 640, height: 400 }, async (page) => {
      assert.equal(await page.locator('nav.rail').evaluate((rail) => getComputedStyle(rail).position), 'static');
    });
  });

  it('the focused field is never under the rail', async () => {
    await visit(house, '/formulas/2/formula', WIDE, async (page) => {
      await page.locator('[name="notes"]').focus();
      for (let n = 0; n < 30; n += 1) {
        await page.keyboard.press('Shift+Tab');
        await page.waitForTimeout(60);
        const hidden = await page.evaluate(() => {
          const rail = document.querySelector('nav.rail');
          const at = document.activeElement.getBoundingClientRect();
          return !rail.contains(document.activeElement) && at.height > 0 && at.bottom <= rail.getBoundingClientRect().bottom && rail.getBoundingClientRect().top === 0;
        });
        assert.ok(!hidden, `stop ${n} is hidden`);
      }
    });
  });

  it('a plan into the night is mended by one press', async () => {
    await visit(house, '/formulas/1/day', WIDE, async (page) => {
      await page.getByLabel('Start at').check();
      await page.locator('[name="day.at.time"]').fill('10 pm');
      await page.locator('[name="day.at.other"]').fill('10 March 2031');
      const start = page.getByRole('button', { name: /^Start at / });
      await start.waitFor();
      const before = await read(page, 'rail-day');
      await start.click();
      await moved(page, 'day', before);
      await start.waitFor({ state: 'detached' });
      assert.notEqual(await page.locator('[name="day.at.time"]').inputValue(), '10 pm');
    });
  });
});
