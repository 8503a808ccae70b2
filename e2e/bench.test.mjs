// The bench: bakes from the first gram to the cut, on a phone and a tablet, with the simulated instruments of the demo.

import assert from 'node:assert/strict';
import { chmodSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { COLOURS, PHONE, WIDE, accessibility, open, tour, visit } from './house.mjs';

const TABLET = { width: 820, height: 1180 };
let house;
before(async () => (house = await open()));
after(() => house.close());

/** What a hand does at a simulated instrument. */
const hand = (page, op) =>
  page.request.post(`${house.address}/instruments`, { headers: { Origin: house.address }, form: { op }, maxRedirects: 0 });

const card = (page) => page.locator('[data-card]:visible');
const name = (page) => card(page).getAttribute('data-card');
/** Steps that are still to come, by the page. */
const toCome = (page) => page.locator('[data-card]').count();
/** Whether a step is on show; after the last one is done there is none. */
const goesOn = (page) => card(page).count();

/** Begins a bake of a formula; gives its address. */
async function bakeIt(page) {
  await page.getByRole('button', { name: 'Bake it now' }).click();
  await page.waitForURL('**/bakes/*');
  return page.url();
}

/** One touch: the step that is shown is done, and the next is there. */
async function done(page) {
  const was = await name(page);
  await card(page).getByRole('button', { name: 'Done', exact: true }).click();
  await page.waitForFunction((id) => document.querySelector('[data-card]:not([hidden])')?.dataset.card !== id, was);
  return was;
}

/** Until the kitchen has all that was pressed: what it would show is what is shown, and nothing waits to be sent. */
async function confirmed(page) {
  for (let n = 0; n < 150; n += 1) {
    const there = await page.evaluate(async () => {
      const id = document.querySelector('[data-bake]').dataset.bake;
      const html = await fetch(`/bakes/${id}/part`).then((r) => r.text(), () => '');
      const waiting = await new Promise((resolve) => {
        const asked = indexedDB.open('cerealis-bench', 1);
        asked.onsuccess = () => {
          const count = asked.result.transaction('presses').objectStore('presses').count();
          count.onsuccess = () => resolve(count.result);
          count.onerror = () => resolve(-1);
        };
        asked.onerror = () => resolve(-1);
      });
      const drawn = /data-seq="(\d+)"/.exec(html)?.[1] === document.querySelector('.bake-part').dataset.seq;
      return waiting === 0 && drawn && /data-card="([^"]+)"/.exec(html)?.[1];
    });
    if (there && there === (await name(page))) return;
    await page.waitForTimeout(100);
  }
  assert.fail('the kitchen does not have it');
}

for (const [size, viewport] of [['phone', PHONE], ['tablet', TABLET]]) {
  describe(`a bake on a ${size}`, () => {
    it('a tin loaf with scale and probe, from the first gram to the cut, one touch a step', async () => {
      await visit(house, '/formulas/1/formula', viewport, async (page) => {
        await bakeIt(page);
        const steps = await toCome(page);
        let touches = 0;
        // The scale takes each line by itself when it stands.
        for (;;) {
          const line = page.locator('.weigh-line.active');
          if ((await line.count()) === 0) break;
          const [number, much] = await Promise.all([line.getAttribute('data-line'), line.locator('.weigh-much').innerText()]);
          await hand(page, 'tare');
          await page.waitForTimeout(300);
          await hand(page, `scale:put:${Number.parseFloat(much)}`);
          await page.locator(`.weigh-line.weighed[data-line="${number}"]`).waitFor({ timeout: 20000 });
        }
        await hand(page, 'probe:into:26');
        let read = false;
        let previous = '';
        while (await goesOn(page)) {
          const before = await name(page);
          assert.notEqual(before, previous);
          previous = before;
          if (before === 'bulk' && !read) {
            read = true;
            await page.waitForFunction(() => Number(document.querySelector('[data-probe-value]')?.textContent) > 25.5);
            await card(page).locator('summary', { hasText: 'Reading' }).click();
            await card(page).locator('[data-probe=dough]').click();
            touches += 2;
            await page.locator('[data-said]', { hasText: /Ready \d\d:\d\d|Ready .* (sooner|later)|As it was forecast/ }).waitFor();
          }
          touches += 1;
          await card(page).getByRole('button', { name: 'Done', exact: true }).click();
          await page.waitForFunction((id) => document.querySelector('[data-card]:not([hidden])')?.dataset.card !== id, before);
        }
        await page.getByRole('heading', { name: /The bread is there/ }).waitFor();
        assert.ok(touches <= steps + 2, `${touches} touches for ${steps} steps`);
        await page.getByLabel('Next time').fill('A darker crust');
        await page.getByRole('button', { name: 'Keep it for next time' }).click();
        await page.locator('[data-said]', { hasText: 'Noted.' }).waitFor();
        await page.goto(`${house.address}/formulas/1/formula`);
        await page.getByText('A darker crust').waitFor();
      });
    });

    it('large enough: figures, the button, whatever a thumb wants', async () => {
      await visit(house, '/bakes/1', viewport, async (page) => {
        await page.waitForFunction(() => /\d/.test(document.querySelector('.bake-figure').textContent));
        const figure = await card(page).locator('.bake-figure').evaluate((f) => Number.parseFloat(getComputedStyle(f).fontSize));
        assert.ok(figure >= (size === 'phone' ? 64 : 96), `a figure of ${figure} px`);
        for (const sheet of ['Reading', 'Note', 'Otherwise']) {
          await card(page).locator('summary', { hasText: sheet }).click();
          const small = await page.locator('.bake-part').evaluate((part) =>
            [...part.querySelectorAll('[data-card]:not([hidden]) :is(button, summary, input:not([type=file]), label.act), nav a')]
              .filter((b) => b.checkVisibility())
              .map((b) => [b.textContent.trim() || b.id, Math.round(b.getBoundingClientRect().height)])
              .filter(([, height]) => height < 56),
          );
          assert.deepEqual(small, [], sheet);
        }
        const wide = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
        assert.ok(wide <= 0, `${wide} px wider than the page`);
      });
    });
  });
}

it('what came out heavier has an answer', async () => {
  await visit(house, '/formulas/1/formula', PHONE, async (page) => {
    await bakeIt(page);
    await hand(page, 'tare');
    await page.waitForTimeout(400);
    await hand(page, 'scale:put:430');
    await page.getByText(/30 g over|29 g over|31 g over/).waitFor();
    await page.getByText(/hydration instead of/).waitFor();
    await page.getByRole('button', { name: 'Scale the rest' }).click();
    await page.locator('[data-said]', { hasText: /goes by 1\.0\d/ }).waitFor();
    const water = await page.locator('.weigh-line', { hasText: 'Water' }).locator('.weigh-much').innerText();
    assert.ok(Math.abs(Number.parseFloat(water) - 294 * 1.075) < 3, water);
    // Unplugged it is said, and touch goes on.
    await hand(page, 'scale:silent:6');
    await page.getByText('The scale is gone. Tick it off by touch.').waitFor({ timeout: 15000 });
    await page.locator('.weigh-line.active .weigh-tick').click();
    await page.waitForFunction(() => document.querySelectorAll('.weigh-line.weighed').length === 2);
    await hand(page, 'tare');
  });
});

it('salt that was not ticked off is asked about before mixing ends', async () => {
  await visit(house, '/formulas/1/formula', PHONE, async (page) => {
    await bakeIt(page);
    await page.locator('.weigh-line', { hasText: 'Water' }).locator('.weigh-tick').click();
    await page.locator('.weigh-line.weighed', { hasText: 'Water' }).waitFor();
    await confirmed(page);
    for (;;) {
      const now = await done(page);
      await confirmed(page);
      if (await page.getByText('is not ticked off. Is it in?').count()) break;
      assert.notEqual(now, 'bulk', 'it was never asked');
    }
    await page.getByRole('button', { name: 'It is in' }).click();
    await page.getByText('is not ticked off. Is it in?').waitFor({ state: 'hidden' });
  });
});

it('a plait: butter late, strands by their weight, each move by its own picture, washed before the oven', async () => {
  await visit(house, '/formulas/5/formula', PHONE, async (page) => {
    await bakeIt(page);
    const seen = [];
    while (await goesOn(page)) {
      const id = await name(page);
      const title = await card(page).locator('h2').innerText();
      seen.push(title);
      if (title === 'Work in the butter') assert.match(await card(page).locator('.bake-amounts').innerText(), /g\s+.*utter/);
      if (id === 'shape.0') assert.match(await card(page).locator('.bake-figure').innerText(), /^\d+ g\s+a strand$/);
      if (title === 'Plait') {
        const said = () => card(page).locator('figure:visible figcaption').innerText();
        const first = await said();
        await card(page).getByRole('button', { name: 'Next move' }).click();
        assert.notEqual(await said(), first);
      }
      if (title.startsWith('Into the oven')) await card(page).locator('.bake-caution').first().waitFor();
      await done(page);
    }
    for (const title of ['Work in the butter', 'Plait', 'Wash', 'Oven on', 'Into the oven', 'Bake', 'Cool']) {
      assert.ok(seen.some((t) => t.startsWith(title)), `${title} in ${seen}`);
    }
    assert.ok(seen.indexOf('Wash') < seen.indexOf('Into the oven'));
  });
});

it('a levain round that was left alone: forty minutes late, its folds keep apart and its rise is where it was', async () => {
  await visit(house, '/formulas/3/dough', PHONE, async (page) => {
    const ago = new Date(Date.now() - 75 * 60000);
    // The kitchen's own clock says what time it was.
    const zone = await page.request.get(`${house.address}/kitchen`).then((r) => r.text()).then((t) => /id="time_zone"[^>]*value="([^"]+)"/.exec(t)[1]);
    const mixed = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: zone }).format(ago);
    await page.getByLabel('Mixed at').fill(mixed);
    await page.getByRole('button', { name: 'Start' }).click();
    await page.getByRole('link', { name: 'To the bench' }).click();
    assert.match(await name(page), /^fold/);
    await page.waitForFunction(() => /min over/.test(document.querySelector('.bake-figure').textContent));
    const ready = await card(page).locator('.bake-says').first().innerText();
    await page.locator('[data-said]', { hasText: /it rang \d+ min ago/ }).waitFor();
    await done(page);
    await confirmed(page);
    // The second is not due at once: two thirds of their interval lie between them.
    assert.match(await name(page), /^fold/);
    await card(page).locator('.bake-kicker', { hasText: /^At \d\d:\d\d/ }).waitFor();
    assert.equal(await card(page).locator('.bake-says').first().innerText(), ready);
    await card(page).locator('summary', { hasText: 'Otherwise' }).click();
    await card(page).getByRole('button', { name: '40 minutes late' }).click();
    await page.locator('[data-said]', { hasText: '40 min more' }).waitFor();
    await card(page).locator('summary', { hasText: 'Otherwise' }).click();
    await card(page).getByRole('button', { name: 'Undo' }).click();
    await page.locator('[data-said]', { hasText: 'Taken back.' }).waitFor();
  });
});

it('a press is on the screen at once and confirmed soon', async () => {
  await visit(house, '/formulas/2/formula', PHONE, async (page) => {
    await bakeIt(page);
    const took = [];
    for (let n = 0; n < 8; n += 1) {
      // From the finger on the glass to the page that the kitchen has confirmed, by the page's own count.
      await page.evaluate(() => {
        let touched = 0;
        addEventListener('pointerdown', () => (touched = performance.now()), { capture: true, once: true });
        const was = document.querySelector('.bake-part').dataset.seq;
        globalThis.confirmed = new Promise((resolve) => {
          const look = () => (document.querySelector('.bake-part').dataset.seq !== was ? requestAnimationFrame(() => resolve(performance.now() - touched)) : setTimeout(look, 2));
          look();
        });
      });
      await done(page);
      took.push(Math.round(await page.evaluate(() => globalThis.confirmed)));
    }
    took.sort((a, b) => a - b);
    console.log(`# touch to confirmed, ms: median ${took[4]}, all ${took.join(' ')}`);
  });
});

it('the program is killed twice in the middle, and nothing that was confirmed is lost', async () => {
  await visit(house, '/formulas/2/formula', PHONE, async (page) => {
    const at = await bakeIt(page);
    for (let n = 0; n < 2; n += 1) {
      const was = await done(page);
      await confirmed(page);
      await house.again();
      await page.goto(at);
      assert.notEqual(await name(page), was);
      assert.equal(await page.locator(`[data-card="${was}"]`).count(), 0);
    }
    // It goes down while something is pressed: the press waits, and goes there when it is back.
    const was = await name(page);
    const down = house.again();
    await card(page).getByRole('button', { name: 'Done', exact: true }).click();
    await down;
    await confirmed(page);
    await page.goto(at);
    assert.equal(await page.locator(`[data-card="${was}"]`).count(), 0);
  }, { expectErrors: true });
});

it('without a network the bake goes on, and what was pressed goes up later', async () => {
  await visit(house, '/formulas/2/formula', PHONE, async (page) => {
    const at = await bakeIt(page);
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => true));
    await page.goto(at);
    const first = await name(page);
    await page.context().setOffline(true);
    await card(page).getByRole('button', { name: 'Done', exact: true }).click();
    await page.getByText('one press waits here').waitFor();
    const second = await name(page);
    assert.notEqual(second, first);
    await card(page).getByRole('button', { name: 'Done', exact: true }).click();
    await page.getByText('2 presses wait here').waitFor();
    // Closed and opened again it still knows.
    await page.reload();
    await page.getByText('2 presses wait here').waitFor();
    assert.ok(![first, second].includes(await name(page)));
    await page.context().setOffline(false);
    await page.waitForFunction(() => !document.body.dataset.readAt, null, { timeout: 20000 });
    await confirmed(page);
    await page.goto(at);
    assert.equal(await page.locator(`[data-card="${first}"], [data-card="${second}"]`).count(), 0);
  }, { expectErrors: true, serviceWorkers: 'allow' });
});

it('while nothing can be saved a press waits on the phone, and goes there when it can', async () => {
  const file = join(house.folder, 'demo.sqlite');
  await visit(house, '/formulas/2/formula', PHONE, async (page) => {
    const at = await bakeIt(page);
    const first = await name(page);
    chmodSync(file, 0o400);
    try {
      // The watch looks once a second, and the page asks it every ten.
      await page.locator('[data-finding="read-only"]').waitFor({ timeout: 15000 });
      await card(page).getByRole('button', { name: 'Done', exact: true }).click();
      await page.getByText('one press waits here').waitFor();
      assert.notEqual(await name(page), first, 'the page goes on');
      const other = await page.context().newPage();
      await other.goto(`${house.address}/kitchen`);
      assert.match(await other.locator('[data-finding="read-only"]').innerText(), /Nothing is saved at the moment/);
      await other.close();
    } finally {
      chmodSync(file, 0o600);
    }
    await confirmed(page);
    await page.goto(at);
    assert.equal(await page.locator(`[data-card="${first}"]`).count(), 0, 'what was pressed is kept');
    await page.locator('[data-finding]').waitFor({ state: 'detached' });
  }, { expectErrors: true });
});

it('two phones press together: it is done once, and both see it', async () => {
  await visit(house, '/formulas/2/formula', PHONE, async (one) => {
    const at = await bakeIt(one);
    const context = await house.browser.newContext({ viewport: PHONE, serviceWorkers: 'block' });
    const other = await context.newPage();
    await other.goto(at);
    const was = await name(one);
    const press = (page) => card(page).getByRole('button', { name: 'Done', exact: true }).click();
    await Promise.all([press(one), press(other)]);
    for (const page of [one, other]) await confirmed(page);
    const [a, b] = [await name(one), await name(other)];
    assert.equal(a, b);
    assert.notEqual(a, was);
    // What one presses the other sees without being touched.
    await press(one);
    await other.waitForFunction((id) => document.querySelector('[data-card]:not([hidden])')?.dataset.card !== id, b);
    await confirmed(one);
    assert.equal(await name(other), await name(one));
    await context.close();
  });
});

it('a page that slept, and a device whose clock is wrong, count as the kitchen does', async () => {
  await visit(house, '/bakes/1', PHONE, async (page) => {
    const left = async () => {
      const text = await card(page).locator('.bake-figure').innerText();
      const [, hours, minutes] = /(?:(\d+) h )?(\d+)/.exec(text);
      return 60 * Number(hours ?? 0) + Number(minutes);
    };
    await page.waitForFunction(() => /\d/.test(document.querySelector('.bake-figure').textContent));
    const before = await left();
    const right = async (why) => {
      const ends = Date.now() + 10_000;
      for (let good = 0; good < 3; await page.waitForTimeout(200)) {
        const shown = await left();
        good = Math.abs(shown - before) <= 1 ? good + 1 : 0;
        assert.ok(Date.now() < ends, `${why}: ${before} and ${shown}`);
      }
    };
    await page.clock.install();
    await right('the page began anew to count');
    await Promise.all([page.waitForResponse((r) => /\/part$/.test(r.url())), page.clock.fastForward('20:00')]);
    await right('it counted twenty minutes that were none');
    await page.clock.setSystemTime(Date.now() + 3 * 3600_000);
    for (let n = 0; n < 5; n += 1) {
      await page.clock.runFor(300);
      const shown = await left();
      assert.ok(Math.abs(shown - before) <= 1, `a clock that is set shifts nothing, not for a moment: ${before} and ${shown}`);
    }
  }, { own: true });
});

it('readings in two touches: the tub, a poke, and what is odd is asked about', async () => {
  await visit(house, '/bakes/1', PHONE, async (page) => {
    const reading = async (press) => {
      await card(page).locator('summary', { hasText: 'Reading' }).click();
      await press();
    };
    await reading(() => card(page).locator('.tub-level[value="read:volume:1.75"]').click());
    await page.locator('[data-said]', { hasText: /sooner: \d\d:\d\d, likely \d\d:\d\d to \d\d:\d\d/ }).waitFor();
    await reading(() => card(page).locator('.tub-level[value="read:volume:1.2"]').click());
    await page.getByText('Has it fallen?').waitFor();
    assert.deepEqual(await accessibility(page), []);
    await page.getByRole('link', { name: 'No', exact: true }).click();
    await page.getByText('Has it fallen?').waitFor({ state: 'hidden' });
    const said = () => page.locator('[data-said]').innerText();
    const before = await said();
    await reading(() => card(page).getByRole('button', { name: 'Springs back at once' }).click());
    await page.waitForFunction((was) => document.querySelector('[data-said]').innerText !== was, before);
    assert.match(await said(), /Ready|forecast/);
    await reading(async () => {
      await card(page).getByRole('button', { name: 'The dough now: more' }).click();
      await card(page).getByRole('button', { name: /Take it.*The dough now/ }).click();
    });
    await page.locator('[data-said]', { hasText: /Ready|forecast/ }).waitFor();
  });
});

it('a phone that lies on its side has the figure, the sign and the button on its screen', async () => {
  for (const [path, light] of [['/bakes/1', 'light'], ['/bakes/2', 'dark']]) {
    await visit(house, path, { width: 844, height: 390 }, async (page) => {
      await page.waitForFunction(() => /\d/.test(document.querySelector('.bake-figure').textContent));
      for (const what of ['.bake-figure', '.bake-what', '[data-done]']) {
        const box = await card(page).locator(what).boundingBox();
        assert.ok(box.y >= 0 && box.y + box.height <= 390, `${what} from ${box.y} to ${box.y + box.height}`);
      }
      assert.ok((await card(page).locator('[data-done]').boundingBox()).height >= 56);
      await card(page).locator('summary', { hasText: 'Otherwise' }).click();
      await page.waitForFunction(() => scrollY > 0);
      assert.deepEqual(await accessibility(page), []);
      const wide = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      assert.ok(wide <= 0, `${wide} px wider than the page`);
    }, { colorScheme: light });
  }
});

it('several lines on one tare: each is what comes on top', async () => {
  await visit(house, '/formulas/2/formula', PHONE, async (page) => {
    await bakeIt(page);
    await page.getByRole('button', { name: 'One tare for several' }).click();
    await hand(page, 'tare');
    const first = page.locator('.weigh-line.active');
    const grams = async (row) => Number(await row.getAttribute('data-grams'));
    const one = await grams(first);
    assert.equal(await first.locator('[data-total]').innerText(), `to ${one} g on the scale`);
    await page.waitForTimeout(400);
    await hand(page, `scale:put:${one}`);
    await page.waitForFunction(() => document.querySelectorAll('.weigh-line.weighed').length === 1, null, { timeout: 20000 });
    const second = page.locator('.weigh-line.active');
    const two = await grams(second);
    // Nothing was tared away: the second stands on the first.
    const taken = await grams(page.locator('.weigh-line.weighed'));
    assert.equal(await second.locator('[data-total]').innerText(), `to ${Math.round(10 * (taken + two)) / 10} g on the scale`);
    await hand(page, `scale:put:${two}`);
    await page.waitForFunction(() => document.querySelectorAll('.weigh-line.weighed').length === 2, null, { timeout: 20000 });
    assert.ok(Math.abs((await grams(page.locator('.weigh-line.weighed').nth(1))) - two) <= Math.max(0.02 * two, 2));
    // It is so still when the page is opened again, and ticked by touch it counts as well.
    await page.reload();
    const third = page.locator('.weigh-line.active');
    const wanted = await grams(third);
    await third.locator('.weigh-tick').click();
    await page.waitForFunction(() => document.querySelectorAll('.weigh-line.weighed').length === 3);
    const fourth = page.locator('.weigh-line.active');
    const on = Number.parseFloat((await fourth.locator('[data-total]').innerText()).slice(3));
    assert.ok(Math.abs(on - (taken + two + wanted + (await grams(fourth)))) <= 0.03 * on, `${on}`);
    assert.deepEqual(await accessibility(page), []);
  });
});

it('how a dough rings is chosen by ear, on every phone, and rings so', async () => {
  await visit(house, '/formulas/2/formula', PHONE, async (page) => {
    const at = await bakeIt(page);
    // What is sounded is written down instead: pitches, Hz.
    await page.addInitScript(() => {
      globalThis.sounded = [];
      const param = () => ({ setValueAtTime() {}, linearRampToValueAtTime() {}, exponentialRampToValueAtTime() {} });
      const node = (more) => ({ connect: (to) => to, start() {}, stop() {}, ...more });
      globalThis.AudioContext = class {
        state = 'running';
        currentTime = 0;
        destination = node();
        resume() {}
        createGain() { return node({ gain: param() }); }
        createOscillator() {
          const frequency = { set value(hz) { globalThis.sounded.push(hz); } };
          return node({ frequency });
        }
      };
    });
    await page.reload();
    const other = await page.context().newPage();
    await other.goto(at);
    await card(page).locator('summary', { hasText: 'Otherwise' }).click();
    const bell = (name) => card(page).locator('.bells').getByRole('button', { name });
    const pressed = (where) => where.locator('.bells button[aria-pressed=true]').first().textContent();
    assert.equal(await card(page).locator('.bells button').count(), 6);
    await bell('Trembles').click();
    await page.locator('[data-said]', { hasText: 'It rings: trembles.' }).waitFor();
    assert.equal(await pressed(page), 'Trembles');
    await other.waitForFunction(() => document.querySelector('.bells button[aria-pressed=true]').textContent === 'Trembles');
    const once = await page.evaluate(() => globalThis.sounded.splice(0));
    assert.deepEqual([once.length, [...new Set(once)].length], [6, 2]);
    // Pressed again it is heard again, and nothing more happens to the bake.
    const seq = await page.locator('.bake-part').getAttribute('data-seq');
    await card(page).locator('summary', { hasText: 'Otherwise' }).click();
    await bell('Trembles').click();
    assert.equal(await page.evaluate(() => globalThis.sounded.splice(0).length), 6);
    assert.equal(await page.locator('.bake-part').getAttribute('data-seq'), seq);
    assert.deepEqual(await accessibility(page), []);
    // What is over its time rings four times.
    await page.evaluate(() => {
      const timer = document.createElement('p');
      timer.dataset.rings = '1';
      timer.dataset.ringsFor = 'A dough: Fold';
      timer.dataset.bell = document.querySelector('.bells button[aria-pressed=true]').dataset.bell;
      document.querySelector('.bake-page').append(timer);
    });
    await page.waitForFunction(() => globalThis.sounded.length === 24);
  });
});

it('a photo is kept with the bake, and one taken without a network goes up later', async () => {
  await visit(house, '/formulas/1/formula', PHONE, async (page) => {
    await bakeIt(page);
    // Any picture is one: the page's own.
    const buffer = await page.screenshot();
    const take = async () => {
      await card(page).locator('summary', { hasText: 'Note' }).click();
      await card(page).locator('[data-photo]').setInputFiles({ name: 'crumb.png', mimeType: 'image/png', buffer });
    };
    await take();
    await page.locator('[data-said]', { hasText: 'The photo is kept.' }).waitFor();
    const photo = card(page).locator('.bake-photos img').first();
    await photo.waitFor();
    const kept = await page.request.get(new URL(await photo.getAttribute('src'), house.address).href);
    assert.equal(kept.headers()['content-type'], 'image/jpeg');
    await page.waitForFunction(() => document.querySelector('[data-card]:not([hidden]) .bake-photos img').naturalWidth > 300);
    await page.context().setOffline(true);
    await take();
    await page.getByText('one press waits here').waitFor();
    await page.context().setOffline(false);
    await page.waitForFunction(() => document.querySelectorAll('[data-card]:not([hidden]) .bake-photos img').length === 2, null, { timeout: 15000 });
    await card(page).locator('[data-photo]').setInputFiles({ name: 'notes.txt', mimeType: 'image/png', buffer: Buffer.from('no picture') });
    await page.locator('[data-said]', { hasText: 'cannot read that picture' }).waitFor();
  }, { expectErrors: true });
});

// What other phones do draws the page anew. Whatever somebody is at stays as it is: an open sheet, what is typed, what has the
// focus, a later step that is looked at, the move of a plait, the tare of several lines, what was just said.
it('nothing that is drawn anew takes away what somebody is at', async () => {
  await visit(house, '/formulas/5/formula', PHONE, async (page) => {
    await bakeIt(page);
    const bake = new URL(page.url()).pathname;
    let said = 0;
    /** Another phone notes something, and this page has drawn it. */
    const drawnAnew = async () => {
      said += 1;
      const before = Number(await page.locator('.bake-part').getAttribute('data-seq'));
      const answer = await page.request.post(house.address + bake, { form: { op: `note:other phone ${said}` }, headers: { Origin: house.address, Accept: 'application/json' } });
      assert.ok(answer.ok());
      await page.waitForFunction((was) => Number(document.querySelector('.bake-part').dataset.seq) > was, before);
    };
    /** What somebody is at, as the page has it. */
    const isAt = () => page.evaluate(() => {
      const here = document.querySelector('[data-card]:not([hidden])');
      const named = (el) => (el && el !== document.body ? el.id || el.getAttribute('name') || el.textContent.trim() : '');
      return {
        card: here.dataset.card,
        open: [...here.querySelectorAll('details[open]')].map((d) => d.id),
        typed: [...document.querySelectorAll('.bake-part input:not([type=hidden]):not([type=file])')].map((i) => [i.id, i.value]),
        focus: named(document.activeElement),
        moves: [...here.querySelectorAll('figure')].map((f) => 'later' in f.dataset),
        pressed: [...here.querySelectorAll('[aria-pressed]')].map((b) => b.getAttribute('aria-pressed')),
        active: [...here.querySelectorAll('.weigh-line.active')].map((l) => l.id),
        totals: [...here.querySelectorAll('[data-total]')].map((t) => (t.hidden ? '' : t.textContent)),
        scrolled: Math.round(scrollY),
      };
    });
    const stays = async (why) => {
      // What was pressed has come to rest.
      await page.waitForTimeout(150);
      const before = await isAt();
      await drawnAnew();
      assert.deepEqual(await isAt(), before, why);
    };
    const steps = [];
    while (await goesOn(page)) {
      const id = await name(page);
      steps.push(id);
      await stays(`${id}: nothing`);
      if (id === 'weigh') {
        await page.getByRole('button', { name: 'One tare for several' }).click();
        await stays('weigh: one tare');
      }
      // Each sheet of a step that has something of its own, with what can be typed there.
      if (['weigh', 'bulk', 'shape.0', 'proof'].includes(id) || /^cool/.test(id)) {
        for (const sheet of await card(page).locator('details').all()) {
          await sheet.locator('summary').click();
          await stays(`${id}: a sheet open`);
          for (const field of await sheet.locator('input:not([type=hidden]):not([type=file])').all()) {
            const value = (await field.getAttribute('id')) === 'note-text' ? 'half a word' : '19';
            await field.fill(value);
            await stays(`${id}: typed`);
            await field.blur();
            await stays(`${id}: typed and left`);
          }
          await sheet.locator('summary').click();
        }
      }
      for (let move = 0; move < 2 && (await card(page).getByRole('button', { name: 'Next move' }).count()); move += 1) {
        await card(page).getByRole('button', { name: 'Next move' }).click();
        await stays(`${id}: a move of the plait`);
      }
      if (steps.length % 5 === 2) {
        await page.keyboard.press('ArrowRight');
        await stays(`${id}: a later step looked at`);
        await page.keyboard.press('ArrowLeft');
      }
      await done(page);
      if (await goesOn(page)) await confirmed(page);
    }
    assert.ok(steps.includes('bulk') && steps.includes('proof'), steps.join(' '));
  });
});

it('a plait that is washed twice, brought in in words', async () => {
  const recipe = `Feast plait for the table
500 g strong white flour
230 g milk
75 g butter
60 g sugar
1 egg
8 g salt
7 g instant yeast
For the wash:
1 egg
Second wash:
1 egg yolk

Knead for 10 minutes. Let it double. Plait in three strands. Proof for 45 minutes and bake at 180 °C for 30 minutes.`;
  await visit(house, '/formulas/bring', PHONE, async (page) => {
    await page.getByRole('textbox', { name: 'The lines as written or said' }).fill(recipe);
    await page.getByRole('button', { name: 'Read', exact: true }).click();
    await page.getByRole('button', { name: 'Create the formula' }).click();
    await page.waitForURL('**/formulas/*/*');
    await bakeIt(page);
    const seen = [];
    while (await goesOn(page)) {
      seen.push(await card(page).locator('h2').innerText());
      await done(page);
      if (await goesOn(page)) await confirmed(page);
    }
    const washes = seen.map((title, at) => (/^(Wash|Brush|Second wash)/i.test(title) ? at : -1)).filter((at) => at >= 0);
    assert.equal(washes.length, 2, seen.join(', '));
    assert.ok(washes[1] < seen.findIndex((title) => title.startsWith('Bake')), seen.join(', '));
  });
});

it('keys at the bench', async () => {
  await visit(house, '/formulas/2/formula', WIDE, async (page) => {
    await bakeIt(page);
    const first = await name(page);
    await page.keyboard.press('ArrowRight');
    assert.notEqual(await name(page), first);
    await card(page).getByText('Only looked at').waitFor();
    await page.keyboard.press('ArrowLeft');
    assert.equal(await name(page), first);
    await page.keyboard.press('Space');
    await page.waitForFunction((id) => document.querySelector('[data-card]:not([hidden])')?.dataset.card !== id, first);
    await confirmed(page);
    await page.keyboard.press('u');
    await page.waitForFunction((id) => document.querySelector('[data-card]:not([hidden])')?.dataset.card === id, first);
    await page.keyboard.press('r');
    await card(page).locator('details[open]', { hasText: 'Reading' }).waitFor();
    await page.keyboard.press('?');
    await page.getByText('At the bench: done').waitFor();
  });
});

for (const [size, viewport] of [['phone', PHONE], ['wide', WIDE]]) {
  it(`today, the bench, its list and its instruments, on a ${size} page`, async () => {
    const looks = await tour(house, viewport);
    for (const path of ['/', '/bakes', '/bakes/1', '/bakes/3', '/bakes/4', '/instruments', '/bakes/1/rise']) {
      await looks.see(path, async (page) => {
        assert.deepEqual(await accessibility(page), [], path);
        await page.evaluate(() => (document.documentElement.dataset.bsTheme = 'dark'));
        assert.deepEqual(await accessibility(page, COLOURS), [], `${path}, dark`);
      });
    }
    await looks.close();
    await visit(house, '/kitchen', viewport, async (page) => {
      const row = page.locator('#instruments li').first();
      await row.getByRole('button', { name: 'Test' }).click();
      await row.getByText(/Bench scale, simulated answers, and shows -?\d/).waitFor();
    });
    await visit(house, '/instruments', viewport, async (page) => {
      const scale = page.locator('[data-instrument]').first();
      await scale.getByRole('button', { name: 'Tare' }).click();
      await page.waitForTimeout(500);
      await scale.getByRole('button', { name: 'Pour 100 g' }).click();
      await page.waitForFunction(() => Math.abs(Number(document.querySelector('[data-value]').textContent) - 100) < 4);
    });
  });
}
