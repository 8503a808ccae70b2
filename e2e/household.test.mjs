// The household: devices let in, pages out of reach, backups and the bin. Other devices are 127.0.0.2.

import assert from 'node:assert/strict';
import { createServer as createProxy, request as ask } from 'node:http';
import { createServer } from 'node:net';
import { after, before, describe, it } from 'node:test';
import { PHONE, WIDE, accessibility, open, visit } from './house.mjs';

const TABLET = { width: 820, height: 1180 };
const PASSPHRASE = 'crumb river ladder nine';

/** A port of this machine that nobody has. */
const freePort = () => new Promise((resolve) => {
  const server = createServer().listen(0, '127.0.0.2', () => {
    const { port } = server.address();
    server.close(() => resolve(port));
  });
});

for (const [name, viewport] of [['wide', WIDE], ['phone', PHONE], ['tablet', TABLET]]) {
  describe(`the household, on a ${name} page`, () => {
    let house;
    let shared;
    before(async () => {
      const port = await freePort();
      house = await open('demo', ['--listen', '127.0.0.2', '--share-port', String(port)]);
      shared = `https://127.0.0.2:${port}`;
    });
    after(() => house.close());

    it('the door is opened with a passphrase, and shows where it is', async () => {
      await visit(house, '/kitchen', viewport, async (page) => {
        await page.getByRole('link', { name: 'Sharing' }).click();
        await page.getByText('Off: it listens on this machine alone.').waitFor();
        assert.deepEqual(await accessibility(page), []);
        const field = page.getByLabel('The passphrase', { exact: true });
        await field.fill('bread');
        await page.getByText('weak: guessed in an hour').waitFor();
        await page.getByRole('button', { name: 'Set the passphrase' }).click();
        await page.getByText('Give at least 10 characters').waitFor();
        await field.pressSequentially(PASSPHRASE);
        await page.getByText('strong: nobody guesses that').waitFor();
        await page.getByRole('button', { name: 'Set the passphrase' }).click();
        await page.getByText('The passphrase is set.').waitFor();
        await page.getByRole('button', { name: 'Turn on sharing' }).click();
        await page.getByText(shared).waitFor();
        assert.equal(await page.locator('svg.qr').count(), 1);
        assert.match(await page.locator('.finger-print').first().innerText(), /^([0-9A-F]{2} ){31}[0-9A-F]{2}$/);
        assert.deepEqual(await accessibility(page), []);
      }, { expectErrors: true });
    });

    it('a phone signs in, is in the list, and signs out', async () => {
      await visit(house, '/formulas', viewport, async (page) => {
        await page.getByRole('heading', { name: 'This kitchen is shared' }).waitFor();
        assert.equal(await page.locator('nav').isVisible(), false, 'no ways to where nobody is let in');
        assert.deepEqual(await accessibility(page), []);
        await page.getByLabel('This device').fill('Kitchen phone');
        await page.getByLabel('The passphrase of the house').fill('crumb river ladder ten');
        await page.getByRole('button', { name: 'Sign in' }).click();
        await page.getByText('That is not the passphrase.').waitFor();
        assert.equal(await page.getByLabel('This device').inputValue(), 'Kitchen phone');
        await page.getByLabel('The passphrase of the house').fill(PASSPHRASE);
        await page.getByRole('button', { name: 'Sign in' }).click();
        await page.getByText('Weirside tin loaf').first().waitFor();
        await page.goto(`${shared}/sharing`);
        await page.getByText('this one').waitFor();
        assert.deepEqual(await accessibility(page), []);
        await page.getByRole('button', { name: 'Sign this device out' }).click();
        await page.getByRole('heading', { name: 'This kitchen is shared' }).waitFor();
        await page.goto(`${shared}/trust`);
        await page.getByText('Compare.').waitFor();
        assert.deepEqual(await accessibility(page), []);
      }, { at: shared, ignoreHTTPSErrors: true, expectErrors: true });
    });

    it('a helper comes in by a code, and finds the day and the bench', async () => {
      let link;
      await visit(house, '/sharing', viewport, async (page) => {
        await page.getByRole('button', { name: "Add a helper's device" }).click();
        link = await page.locator('.share-link .share-address').innerText();
        assert.equal(await page.locator('.share-link svg.qr').count(), 1);
        assert.deepEqual(await accessibility(page), []);
      });
      await visit(house, new URL(link).pathname, viewport, async (page) => {
        await page.getByLabel('This device').fill('Tablet');
        assert.deepEqual(await accessibility(page), []);
        await page.getByRole('button', { name: 'Add this device' }).click();
        await page.getByRole('heading', { name: 'At the bench' }).waitFor();
        const today = viewport.width > PHONE.width ? ['Today'] : [];
        assert.deepEqual(await page.locator('nav a:visible').allInnerTexts(), [...today, 'Day', 'Bench']);
        await page.getByRole('link', { name: 'Bench' }).click();
        assert.deepEqual(await accessibility(page), []);
        // A helper presses Done like anybody at the bench.
        await page.getByRole('link', { name: /^Go on.*rolls/ }).click();
        await page.getByRole('button', { name: 'Done', exact: true }).click();
        await page.getByRole('heading', { name: /The bread is there/ }).waitFor();
        await page.goto(`${shared}/kitchen`);
        await page.getByText('That is the baker’s').or(page.getByText("That is the baker's")).waitFor();
        await page.goto(link);
        await page.getByText('was used before').waitFor();
      }, { at: shared, ignoreHTTPSErrors: true, expectErrors: true });
    });

    it('out of reach it says since when, and keeps what is typed and what is sent', async () => {
      await visit(house, '/formulas', viewport, async (page) => {
        await page.evaluate(async () => { await navigator.serviceWorker.ready; });
        await page.waitForFunction(() => navigator.serviceWorker.controller);
        await page.goto(`${house.address}/kitchen`);
        await page.goto(`${house.address}/cupboard/own/new`);
        await page.locator('h1').waitFor();
        await page.context().setOffline(true);
        await page.goto(`${house.address}/kitchen`);
        await page.getByText('Out of reach: this is how it was on').waitFor();
        await page.goto(`${house.address}/cupboard/own/new`);
        await page.getByText('Out of reach').waitFor();
        await page.getByLabel('Name').first().fill('Mill bran');
        await page.goto(`${house.address}/sure`);
        await page.getByRole('heading', { name: 'The kitchen is out of reach' }).waitFor();
        assert.deepEqual(await accessibility(page), []);
        await page.goto(`${house.address}/cupboard/own/new`);
        await page.getByText('Out of reach').waitFor();
        assert.equal(await page.getByLabel('Name').first().inputValue(), 'Mill bran');
        // The page comes again by itself.
        await page.context().setOffline(false);
        await page.getByText('What you typed while the kitchen was out of reach').waitFor();
        assert.equal(await page.getByLabel('Name').first().inputValue(), 'Mill bran');
        await page.goto(`${house.address}/formulas`);
        await page.context().setOffline(true);
        await page.locator('form[action="/formulas"][method="post"] [name="name"]').fill('Sent in vain');
        await page.locator('form[action="/formulas"][method="post"] button').last().click();
        await page.getByText('What you sent is kept here').waitFor();
        await page.context().setOffline(false);
        await page.getByRole('button', { name: 'Send again' }).click();
        await page.locator('#bench').waitFor();
        assert.match(await page.title(), /Sent in vain/);
      }, { serviceWorkers: 'allow', expectErrors: true });
    });

    it('a backup is made, looked over and restored', async () => {
      await visit(house, '/backups', viewport, async (page) => {
        await page.getByRole('button', { name: 'Back up now' }).click();
        await page.getByText('Backed up.').waitFor();
        await page.getByRole('button', { name: /^Check/ }).first().click();
        await page.getByText('It is whole').waitFor();
        assert.deepEqual(await accessibility(page), []);
        await page.goto(`${house.address}/formulas/2/formula`);
        page.on('dialog', (dialog) => dialog.accept());
        await page.goto(`${house.address}/backups`);
        await page.getByRole('button', { name: /^Restore/ }).first().click();
        await page.getByText('Restored. How the kitchen was before').waitFor();
      });
    });

    it('what was deleted is taken back from the bin', async () => {
      await visit(house, '/bin', viewport, async (page) => {
        await page.goto(`${house.address}/formulas/4/formula`);
        const name = await page.locator('[name="name"]').inputValue();
        page.on('dialog', (dialog) => dialog.accept());
        await page.evaluate(() => {
          const form = document.createElement('form');
          form.method = 'post';
          form.action = '/formulas/4/delete';
          document.body.append(form);
          form.submit();
        });
        await page.getByText('is deleted.').waitFor();
        await page.getByRole('link', { name: '1 in the bin' }).click();
        await page.getByRole('button', { name: `Restore ${name}` }).waitFor();
        assert.deepEqual(await accessibility(page), []);
        await page.getByRole('button', { name: `Restore ${name}` }).click();
        await page.getByText('Nothing was deleted').waitFor();
        await page.goto(`${house.address}/formulas`);
        await page.getByText(name).first().waitFor();
      });
    });
  });
}

/**
 * The same kitchen under another address whose worker is of another edition when it is told to be: two editions of the
 * program, one after the other.
 */
async function withEditions(house) {
  const to = new URL(house.address);
  let newer = false;
  const proxy = createProxy((from, back) => {
    const headers = { ...from.headers, host: to.host };
    const asked = ask({ host: to.hostname, port: to.port, path: from.url, method: from.method, headers }, (answer) => {
      const edits = newer && from.url === '/worker.js';
      const sent = { ...answer.headers };
      if (edits) for (const name of ['content-length', 'content-encoding', 'transfer-encoding']) delete sent[name];
      back.writeHead(answer.statusCode, sent);
      if (!edits) return answer.pipe(back);
      let text = '';
      answer.setEncoding('utf8');
      answer.on('data', (chunk) => (text += chunk));
      answer.on('end', () => back.end(text.replace(/EDITION = '(\w+)'/, "EDITION = 'next$1'")));
    });
    if (from.url === '/worker.js') asked.removeHeader('accept-encoding');
    asked.on('error', () => back.destroy());
    from.pipe(asked);
  });
  await new Promise((resolve) => proxy.listen(0, '127.0.0.1', resolve));
  return { address: `http://127.0.0.1:${proxy.address().port}`, next: () => (newer = true), close: () => proxy.close() };
}

it('a newer edition of the worker waits for a page of a bake, and takes over when it is closed', async () => {
  const house = await open();
  const editions = await withEditions(house);
  after(() => Promise.all([editions.close(), house.close()]));
  await visit(house, '/bakes/1', PHONE, async (page) => {
    const shells = () => page.evaluate(() => caches.keys().then((all) => all.filter((name) => name.includes('-shell-'))));
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => true));
    const [first] = await shells();
    editions.next();
    const other = await page.context().newPage();
    await other.goto(`${editions.address}/formulas`);
    // A browser looks for a newer one in its own time; here it is asked to.
    await other.evaluate(() => navigator.serviceWorker.getRegistration().then((r) => r.update()).then(() => true));
    const states = () => other.evaluate(() => navigator.serviceWorker.getRegistration().then((r) => [r.installing, r.waiting].map((w) => w?.state ?? '')));
    const until = async (ask) => {
      for (let n = 0; n < 250; n += 1) {
        if (await ask()) return;
        await other.waitForTimeout(100);
      }
      assert.fail(`it stays ${await states()}, ${await shells()}`);
    };
    // It is there, and waits.
    await until(async () => (await states())[1] === 'installed');
    await other.waitForTimeout(500);
    assert.deepEqual(await states(), ['', 'installed']);
    assert.ok((await shells()).includes(first), 'the old one keeps its files');
    // All pages are closed, and the kitchen is opened anew.
    const context = page.context();
    await other.close();
    await page.close();
    const anew = await context.newPage();
    await anew.goto(`${editions.address}/formulas`);
    await anew.waitForTimeout(1000);
    await anew.reload();
    const kept = () => anew.evaluate(() => caches.keys().then((all) => all.filter((name) => name.includes('-shell-'))));
    for (let n = 0; n < 100 && (await kept()).includes(first); n += 1) await anew.waitForTimeout(100);
    assert.deepEqual((await kept()).map((name) => name.includes('next')), [true]);
  }, { at: editions.address, serviceWorkers: 'allow' });
});
