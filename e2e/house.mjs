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

/** Starts the program, and resolves to it and its address when it answers. */
async function start(args) {
  const program = spawn(PROGRAM, args);
  const address = await new Promise((resolve, reject) => {
    let said = '';
    program.stdout.on('data', (chunk) => {
      said += chunk;
      const found = said.match(/at (http:\S+)/);
      if (found) resolve(found[1]);
    });
    program.on('exit', (code) => reject(new Error(`the program ended with ${code}`)));
  });
  return { program, address };
}

async function killed(program) {
  program.removeAllListeners('exit');
  const gone = new Promise((resolve) => program.on('exit', resolve));
  program.kill('SIGKILL');
  await gone;
}

/** Starts the demo on a free port, or another `command` on an empty kitchen; resolves when it answers. */
export async function open(command = 'demo', more = []) {
  const folder = mkdtempSync(join(tmpdir(), 'cerealis-'));
  const data = join(folder, 'demo.sqlite');
  let { program, address } = await start([command, '--port', '0', '--data', data, ...more]);
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS });
  return {
    address,
    browser,
    folder,
    /** Kills the program, and starts it again on the same kitchen and port. */
    async again() {
      await killed(program);
      const keep = command === 'demo' ? ['--keep'] : [];
      ({ program } = await start([command, '--port', new URL(address).port, '--data', data, ...keep, ...more]));
    },
    async close() {
      await browser.close();
      await killed(program);
      rmSync(folder, { recursive: true });
    },
  };
}

/** Watches a page: what its console shows, and what would leave this machine. */
function watched(page, expectsErrors) {
  const wrong = [];
  page.on('console', (message) => {
    if (message.type() === 'error' && !expectsErrors()) wrong.push(`console: ${message.text()}`);
  });
  page.on('pageerror', (error) => wrong.push(`script: ${error.message}`));
  page.on('request', (request) => {
    const { hostname, protocol } = new URL(request.url());
    if (!['data:', 'blob:'].includes(protocol) && !['127.0.0.1', '127.0.0.2'].includes(hostname)) wrong.push(`leaves the machine: ${request.url()}`);
  });
  return wrong;
}

const fresh = (house, viewport, options) =>
  house.browser.newContext({ viewport, timezoneId: 'Europe/London', locale: 'en-GB', serviceWorkers: 'block', ...options });

/** Browsers that were swept, by the house and what they are like: to begin a new one takes longer than most tests. */
const swept = new WeakMap();
const ALIKE = new Set(['expectErrors', 'folded']);

/** A browser as new: nothing is kept in it, and nothing listens. */
async function browserOf(house, viewport, options) {
  if (Object.keys(options).some((name) => !ALIKE.has(name))) return { context: await fresh(house, viewport, options) };
  if (!swept.has(house)) swept.set(house, new Map());
  const like = `${viewport.width} ${viewport.height}`;
  const idle = swept.get(house).get(like) ?? [];
  swept.get(house).set(like, idle);
  const kept = idle.pop();
  return kept ?? { context: await fresh(house, viewport, options), idle };
}

/** Takes out of a browser all that a test may have left there, and puts it back; one that does not come clean is closed. */
async function sweep({ context, page, idle }) {
  if (!idle) return context.close();
  try {
    page.removeAllListeners();
    page.on('dialog', (dialog) => dialog.accept());
    await Promise.all(context.pages().filter((other) => other !== page).map((other) => other.close()));
    await context.setOffline(false);
    await page.unrouteAll({ behavior: 'ignoreErrors' });
    await page.evaluate(() => sessionStorage.clear());
    const { origin } = new URL(page.url());
    const debugged = await context.newCDPSession(page);
    await debugged.send('Storage.clearDataForOrigin', { origin, storageTypes: 'all' });
    await debugged.detach();
    await context.clearCookies();
    await page.emulateMedia({ media: null, colorScheme: null, forcedColors: null, reducedMotion: null });
    await page.goto('about:blank');
    page.removeAllListeners();
    idle.push({ context, page, idle });
  } catch {
    await context.close();
  }
}

/**
 * Opens a page in a browser in which nothing is kept, runs `work` on it, and fails on anything the console or the network shows.
 * With options of its own, `own` at least, it is a browser that nobody had before, and that nobody has after it.
 */
export async function visit(house, path, viewport, work, options = {}) {
  const browser = await browserOf(house, viewport, options);
  browser.page ??= await browser.context.newPage();
  const { page } = browser;
  const wrong = watched(page, () => options.expectErrors);
  try {
    await page.goto((options.at ?? house.address) + path);
    if (viewport.width < 860 && !options.folded && options.javaScriptEnabled !== false && /^\/formulas\/\d+\/(formula|mix|rise|shape|oven|day)$/.test(path)) await everySetting(page);
    await work(page);
  } catch (trouble) {
    await browser.context.close();
    throw trouble;
  }
  await sweep(browser);
  assert.deepEqual(wrong, []);
}

/**
 * Goes from address to address in one browser, as somebody does who only looks: `see` runs `work` at each and fails as `visit`
 * does. What a test changes it changes in a browser of its own.
 */
export async function tour(house, viewport, options = {}) {
  const context = await fresh(house, viewport, options);
  const page = await context.newPage();
  let expects = false;
  const wrong = watched(page, () => expects);
  return {
    async see(path, work, expectErrors = false) {
      expects = expectErrors;
      await page.emulateMedia({ media: null });
      await page.goto(house.address + path);
      await work(page);
      assert.deepEqual(wrong.splice(0), []);
    },
    close: () => context.close(),
  };
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

/** On a phone a station's settings are folded but for its first: whoever turns others opens them, once on a page. */
export async function everySetting(page) {
  if (page.viewportSize().width > 860) return;
  await page.locator('[data-settings]:visible').first().click();
  await page.locator('.bench.all-settings').waitFor();
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
