// Starts the program on the demo kitchen and opens pages in Debian's Chromium. Every page is
// watched: a console error, or a request that leaves this machine, fails the test.

import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import assert from 'node:assert/strict';
import { chromium } from 'playwright-core';

const PROGRAM = process.env.CEREALIS ?? new URL('../target/debug/cerealis', import.meta.url).pathname;
const FLAGS = [
  '--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run',
  '--disable-background-networking', '--disable-component-update', '--disable-sync',
];
const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

export const WIDE = { width: 1280, height: 800 };
export const PHONE = { width: 390, height: 844 };

/** Starts the demo on a free port, or another `command` on an empty kitchen; resolves when it answers. */
export async function open(command = 'demo') {
  const folder = mkdtempSync(join(tmpdir(), 'cerealis-'));
  const program = spawn(PROGRAM, [command, '--port', '0', '--data', join(folder, 'demo.sqlite')]);
  const address = await new Promise((resolve, reject) => {
    let said = '';
    program.stdout.on('data', (chunk) => {
      said += chunk;
      const found = said.match(/at (http:\S+)/);
      if (found) resolve(found[1]);
    });
    program.on('exit', (code) => reject(new Error(`the program ended with ${code}`)));
  });
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS });
  return {
    address,
    browser,
    folder,
    async close() {
      await browser.close();
      program.removeAllListeners('exit');
      const gone = new Promise((resolve) => program.on('exit', resolve));
      program.kill('SIGKILL');
      await gone;
      rmSync(folder, { recursive: true });
    },
  };
}

/** Opens a page, runs `work` on it, and fails on anything the console or the network shows. */
export async function visit(house, path, viewport, work, options = {}) {
  const context = await house.browser.newContext({ viewport, timezoneId: 'Europe/London', locale: 'en-GB', ...options });
  const page = await context.newPage();
  const wrong = [];
  page.on('console', (message) => {
    if (message.type() === 'error' && !options.expectErrors) wrong.push(`console: ${message.text()}`);
  });
  page.on('pageerror', (error) => wrong.push(`script: ${error.message}`));
  page.on('request', (request) => {
    const { hostname, protocol } = new URL(request.url());
    if (protocol !== 'data:' && hostname !== '127.0.0.1') wrong.push(`leaves the machine: ${request.url()}`);
  });
  try {
    await page.goto(house.address + path);
    // On a phone the settings of a station are folded but for its first; whoever turns others opens them.
    if (viewport.width < 860 && !options.folded && /^\/formulas\/\d+\/(formula|mix|rise|shape|oven|day)$/.test(path)) {
      const all = page.locator('[data-settings]:visible');
      if (await all.count()) await all.first().click();
    }
    await work(page);
  } finally {
    await context.close();
  }
  assert.deepEqual(wrong, []);
}

/** Text of an element by its test name. */
export const read = (page, name) => page.locator(`[data-test="${name}"]:visible`).innerText();

/** Types into a field as a person does, replacing what is there. */
export async function type(page, name, text) {
  const field = page.locator(`[name="${name}"]:visible`);
  await field.click();
  await field.press('Control+a');
  await field.pressSequentially(text);
}

/** Waits until a headline on the rail is another than it was. */
export async function moved(page, station, before) {
  await page.waitForFunction(
    ([name, was]) => document.querySelector(`[data-test="rail-${name}"]`).innerText !== was,
    [station, before],
  );
  return read(page, `rail-${station}`);
}

const RULES = { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] };
/** For a page that has passed in another light, and differs in its colours alone. */
export const COLOURS = { type: 'rule', values: ['color-contrast'] };

/**
 * Scans what is on show with axe and returns what it finds, in a line each. Stations that are hidden
 * are scanned when they are shown.
 */
export async function accessibility(page, runOnly = RULES) {
  // The page's own policy forbids inline scripts; the scanner comes in through the debugger.
  await page.evaluate(AXE);
  // From the top: what the rail that stays there happens to cover is no finding.
  await page.evaluate(() => scrollTo({ top: 0, behavior: 'instant' }));
  return page.evaluate(async (only) => {
    const shown = { exclude: [['[data-panel][hidden]']] };
    const { violations } = await window.axe.run(shown, { runOnly: only, resultTypes: ['violations'] });
    return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`);
  }, runOnly);
}
