// What every view owes: accessibility, nothing cut off, one printed page.

import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { PDFDocument } from 'pdf-lib';
import { COLOURS, PHONE, WIDE, accessibility, open, visit } from './house.mjs';

let house;
before(async () => { house = await open(); });
after(async () => { await house.close(); });

const STATIONS = ['formula', 'mix', 'rise', 'shape', 'oven', 'day'];
const VIEWS = ['/formulas', '/formulas/bring', '/cupboard', '/cupboard?q=flour', '/cupboard/own/new', '/kitchen', '/formulas/3/sheet', '/formulas/3/versions', '/formulas/6/dough', '/formulas/1/dough', '/nowhere', ...STATIONS.map((s) => `/formulas/3/${s}`)];

// Dark differs from light in its colours alone, so it is looked at on one width, and where most of them are.
const COLOURED = [...STATIONS.map((s) => `/formulas/3/${s}`), '/formulas', '/kitchen', '/formulas/bring', '/formulas/6/dough'];

for (const [size, viewport, light, views] of [['wide', WIDE, 'light', VIEWS], ['wide', WIDE, 'dark', COLOURED], ['phone', PHONE, 'light', VIEWS]]) {
  describe(`${size}, ${light}`, () => {
    for (const view of views) {
      it(`${view} is accessible and fits`, async () => {
        await visit(house, view, viewport, async (page) => {
          assert.deepEqual(await accessibility(page, light === 'dark' ? COLOURS : undefined), []);
          const beyond = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
          assert.ok(beyond <= 0, `${beyond} px reach beyond the page`);
        }, { colorScheme: light, expectErrors: view === '/nowhere' });
      });
    }
  });
}

describe('on paper', () => {
  for (let id = 1; id <= 7; id += 1) {
    it(`the sheet of formula ${id} is one page`, async () => {
      await visit(house, `/formulas/${id}/sheet`, WIDE, async (page) => {
        const pdf = await PDFDocument.load(await page.pdf({ preferCSSPageSize: true }));
        assert.equal(pdf.getPageCount(), 1);
      });
    });
  }
});

describe('targets for floury hands', () => {
  for (const path of STATIONS.slice(1).map((s) => `/formulas/2/${s}`)) {
    it(`${path} has steps of at least 56 px on a phone`, async () => {
      await visit(house, path, PHONE, async (page) => {
        const small = await page.locator('.step:visible, .act:visible, .radio:visible').evaluateAll((all) =>
          all.filter((e) => e.getBoundingClientRect().height < 55.5).map((e) => e.innerText));
        assert.deepEqual(small, []);
      });
    });
  }
});
