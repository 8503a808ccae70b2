// Refreshes docs/screenshots from the demo kitchen: `node screenshots.mjs` after a build.

import { PHONE, WIDE, open, visit } from './house.mjs';

const INTO = new URL('../docs/screenshots/', import.meta.url).pathname;
const VIEWS = [
  ['formulas', '/formulas', WIDE],
  ['formula', '/formulas/3/formula', WIDE],
  ['mix', '/formulas/5/mix', WIDE],
  ['rise', '/formulas/3/rise', WIDE],
  ['shape', '/formulas/5/shape', WIDE],
  ['oven', '/formulas/3/oven', WIDE],
  ['day', '/formulas/1/day', WIDE],
  ['kitchen', '/kitchen', WIDE],
  ['sheet', '/formulas/1/sheet', { width: 1000, height: 1180 }],
  ['rise-dark', '/formulas/5/rise', WIDE, 'dark'],
  ['phone-mix', '/formulas/1/mix', PHONE],
  ['phone-rise', '/formulas/6/rise', PHONE, 'dark'],
  ['phone-oven', '/formulas/6/oven', PHONE],
  ['phone-formula', '/formulas/2/formula', PHONE],
];

const house = await open();
for (const [name, path, viewport, colorScheme = 'light'] of VIEWS) {
  await visit(house, path, viewport, async (page) => {
    await page.evaluate(() => document.fonts.ready);
    await page.screenshot({ path: `${INTO}${name}.png` });
  }, { colorScheme });
}
await house.close();
