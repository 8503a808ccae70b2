// What every view owes: accessibility, nothing cut off, one printed page.

import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { PDFDocument } from 'pdf-lib';
import { COLOURS, PHONE, WIDE, accessibility, everySetting, open, tour, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

const STATIONS = ['formula', 'mix', 'rise', 'shape', 'oven', 'day'];
const VIEWS = ['/formulas', '/formulas/bring', '/cupboard', '/cupboard?q=flour', '/cupboard/own/new', '/kitchen', '/sure', '/words', '/day', '/formulas/3/sheet', '/formulas/3/versions', '/formulas/6/dough', '/formulas/1/dough', '/nowhere', ...STATIONS.map((s) => `/formulas/3/${s}`)];

// Dark differs from light in its colours alone, so it is looked at on one width, and where most of them are.
const COLOURED = [...STATIONS.map((s) => `/formulas/3/${s}`), '/formulas', '/kitchen', '/day', '/formulas/bring', '/formulas/6/dough'];

for (const [size, viewport, light, views] of [['wide', WIDE, 'light', VIEWS], ['wide', WIDE, 'dark', COLOURED], ['phone', PHONE, 'light', VIEWS]]) {
  describe(`${size}, ${light}`, () => {
    let looks;
    before(async () => { looks = await tour(house, viewport, { colorScheme: light }); });
    after(() => looks.close());
    for (const view of views) {
      it(`${view} is accessible and fits`, async () => {
        await looks.see(view, async (page) => {
          if (/^\/formulas\/3\/(formula|mix|rise|shape|oven|day)$/.test(view)) await everySetting(page);
          assert.deepEqual(await accessibility(page, light === 'dark' ? COLOURS : undefined), []);
          const beyond = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
          assert.ok(beyond <= 0, `${beyond} px reach beyond the page`);
        }, view === '/nowhere');
      });
    }
  });
}

// At 200 % a page of 1280 has 640 to lay out in, at 400 % it has 320 (WCAG 1.4.10).
for (const width of [640, 320]) {
  it(`every view fits ${width} px`, async () => {
    await visit(house, '/formulas', { width, height: 400 }, async (page) => {
      const wide = [];
      for (const view of VIEWS.filter((v) => v !== '/nowhere')) {
        await page.goto(house.address + view);
        const beyond = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
        if (beyond > 0) wide.push(`${view}: ${beyond} px`);
      }
      assert.deepEqual(wide, []);
    });
  });
}

describe('in forced colours', () => {
  for (const path of ['/formulas/3/rise', '/formulas/3/formula', '/kitchen']) {
    it(`${path} still shows what is chosen and where the focus is`, async () => {
      await visit(house, path, WIDE, async (page) => {
        const unmarked = await page.evaluate(() => {
          const drawn = (e) => ['outlineStyle', 'textDecorationLine'].some((s) => getComputedStyle(e)[s] !== 'none');
          const here = [...document.querySelectorAll('nav [aria-current]')].filter((e) => e.offsetParent && !drawn(e));
          // A radio is drawn by the browser, so it must not be hidden behind a picture of one.
          const picked = [...document.querySelectorAll('input:checked')]
            .filter((e) => e.parentElement.offsetParent && getComputedStyle(e).appearance === 'none');
          return [...here, ...picked].map((e) => e.outerHTML.slice(0, 80));
        });
        assert.deepEqual(unmarked, []);
        await page.keyboard.press('Tab');
        await page.keyboard.press('Tab');
        const focus = await page.evaluate(() => getComputedStyle(document.activeElement).outlineStyle);
        assert.notEqual(focus, 'none');
      }, { forcedColors: 'active' });
    });
  }
});

describe('with a fault on the page', () => {
  for (const [size, viewport] of [['wide', WIDE], ['phone', PHONE]]) {
    it(`it is accessible, named at its field and fits, ${size}`, async () => {
      await visit(house, '/formulas/1/mix', viewport, async (page) => {
        await page.locator('[name="mix.desired"]').fill('hot');
        await page.locator('[name="mix.desired"]').press('Tab');
        await page.locator('#fault-mix\\.desired:not(:empty), [aria-invalid="true"][name="mix.desired"]').first().waitFor();
        assert.deepEqual(await accessibility(page), []);
        const beyond = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
        assert.ok(beyond <= 0, `${beyond} px reach beyond the page`);
        const told = await page.locator('[name="mix.desired"]').evaluate((e) =>
          (e.getAttribute('aria-describedby') ?? '').split(' ').map((id) => document.getElementById(id)?.innerText ?? '').join(' '));
        assert.match(told, /not a temperature|°C/);
      });
    });
  }
});

describe('on paper', () => {
  let looks;
  before(async () => { looks = await tour(house, WIDE); });
  after(() => looks.close());
  for (let id = 1; id <= 7; id += 1) {
    it(`the sheet of formula ${id} is in 10 pt, on two pages at most`, async () => {
      await looks.see(`/formulas/${id}/sheet`, async (page) => {
        const pdf = await PDFDocument.load(await page.pdf({ preferCSSPageSize: true }));
        assert.ok(pdf.getPageCount() <= 2, `${pdf.getPageCount()} pages`);
        await page.emulateMedia({ media: 'print' });
        const small = await page.locator('.sheet :is(p, li, td, dd, strong):visible').evaluateAll((all) =>
          all.filter((e) => e.innerText.trim() && parseFloat(getComputedStyle(e).fontSize) < 13.2).map((e) => e.innerText.slice(0, 40)));
        assert.deepEqual(small, []);
      });
    });
  }
});

describe('targets for floury hands', () => {
  let looks;
  before(async () => { looks = await tour(house, PHONE); });
  after(() => looks.close());
  for (const path of STATIONS.slice(1).map((s) => `/formulas/2/${s}`)) {
    it(`${path} has steps of at least 56 px on a phone`, async () => {
      await looks.see(path, async (page) => {
        await everySetting(page);
        const small = await page.locator('.step:visible, .act:visible, .radio:visible').evaluateAll((all) =>
          all.filter((e) => e.getBoundingClientRect().height < 55.5).map((e) => e.innerText));
        assert.deepEqual(small, []);
      });
    });
  }
});
