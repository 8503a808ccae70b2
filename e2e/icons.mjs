// Draws the icons of the installed program from crates/web/static/mark.svg: `node icons.mjs`.

import { mkdir, readFile } from 'node:fs/promises';
import { chromium } from 'playwright-core';

const STATIC = new URL('../crates/web/static/', import.meta.url).pathname;
const mark = await readFile(`${STATIC}mark.svg`, 'utf8');
await mkdir(`${STATIC}icons`, { recursive: true });
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
});
// What may be cut off of a maskable icon is a tenth of it on each side.
for (const [name, size, part, round] of [['192', 192, 0.78, 0.2], ['512', 512, 0.78, 0.2], ['maskable-512', 512, 0.58, 0], ['touch-180', 180, 0.7, 0]]) {
  const page = await browser.newPage({ viewport: { width: size, height: size } });
  const url = `data:image/svg+xml;base64,${Buffer.from(mark).toString('base64')}`;
  await page.setContent(`<body style="margin:0;background:transparent"><div style="width:${size}px;height:${size}px;border-radius:${round * size}px;background:#f4ede0;display:grid;place-items:center"><img src="${url}" width="${part * size}" height="${part * size}"></div>`);
  await page.locator('img').evaluate((image) => image.decode());
  await page.screenshot({ path: `${STATIC}icons/${name}.png`, omitBackground: true });
  await page.close();
}
await browser.close();
