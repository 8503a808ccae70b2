// Several doughs planned together: asked, offered, taken, put into a calendar.

import { after, before, describe, it } from 'node:test';
import assert from 'node:assert/strict';
import ICAL from 'ical.js';
import { PDFDocument } from 'pdf-lib';
import { PHONE, WIDE, accessibility, open, visit } from './house.mjs';

/** The events of a calendar as another reader has them, in order. */
function read(file) {
  assert.match(file, /^BEGIN:VCALENDAR\r\n/);
  const calendar = new ICAL.Component(ICAL.parse(file));
  for (const zone of calendar.getAllSubcomponents('vtimezone')) ICAL.TimezoneService.register(new ICAL.Timezone(zone));
  return calendar.getAllSubcomponents('vevent').map((part) => {
    const event = new ICAL.Event(part);
    const at = event.startDate;
    return {
      uid: event.uid,
      at: `${String(at.hour).padStart(2, '0')}:${String(at.minute).padStart(2, '0')}`,
      sequence: event.sequence,
      cancelled: part.getFirstPropertyValue('status') === 'CANCELLED',
      bells: part.getAllSubcomponents('valarm').length,
    };
  });
}

for (const [where, viewport] of [['on a wide page', WIDE], ['on a phone page', PHONE]]) {
  describe(`the day of several doughs, ${where}`, () => {
    let house;
    before(async () => { house = await open(); });
    after(() => house.close());

    /** Adds a dough, wanted on the nth day of the plan. */
    async function dough(page, name, day, time) {
      const rows = page.locator('.dough-row');
      const count = await rows.count();
      await page.getByRole('button', { name: 'Add a dough' }).click();
      await page.waitForFunction((n) => document.querySelectorAll('.dough-row').length === n, count + 1);
      const row = rows.nth(count);
      await row.getByLabel('Dough').selectOption({ label: name });
      await row.locator('.chip').nth(day).click();
      await row.getByLabel('Time', { exact: true }).fill(time);
    }

    it('two doughs are planned round the night, one of the plans is taken, and goes into a calendar', async () => {
      await visit(house, '/day', viewport, async (page) => {
        await page.getByText('add each dough and say when it is wanted').waitFor();
        assert.deepEqual(await accessibility(page), []);
        await page.locator('fieldset.days').first().getByText('Tomorrow').click();
        await page.getByLabel('For how many days').selectOption('2');
        await dough(page, 'Weirside tin loaf', 0, '6 pm');
        await dough(page, 'Fold-over supper rolls', 1, '18:30');
        await page.getByRole('button', { name: 'Plan these days' }).click();
        await page.getByRole('heading', { name: /Plans? to choose from|The plan/ }).waitFor();
        const offers = page.locator('.offer');
        assert.ok(await offers.count() >= 1);
        assert.match(await offers.first().locator('[data-test="holds"]').innerText(), /Holds on/);
        assert.ok(await offers.first().locator('svg.days-picture').isVisible());
        assert.deepEqual(await accessibility(page), []);
        // Better plans come by themselves; then it is said that there are none.
        await page.getByText('No plan is better than the first').waitFor();
        // What they differ in stands above them, a column each that leads to its plan.
        const beside = page.locator('table.beside');
        assert.equal(await beside.locator('thead th').count(), await offers.count());
        for (const figures of await beside.locator('tbody tr').all()) {
          assert.ok(new Set(await figures.locator('td').allInnerTexts()).size > 1, await figures.innerText());
        }
        await beside.getByRole('link', { name: /^Plan 2: / }).click();
        await page.waitForFunction(() => { const { top } = document.getElementById('plan-2').getBoundingClientRect(); return top >= 0 && top < innerHeight / 2; });
        await offers.first().getByRole('button', { name: /^Take this plan/ }).click();
        await page.getByRole('link', { name: 'Calendar file' }).waitFor();
        const steps = page.locator('.day li.hands');
        assert.ok(await steps.count() > 10);
        const file = await page.evaluate(async () => (await fetch('/day/calendar.ics')).text());
        const events = read(file);
        assert.equal(events.length, await steps.count());
        // Another reader finds the times that the page shows, by the kitchen's clock.
        assert.deepEqual(events.map((e) => e.at), await page.locator('.day li.hands .at').evaluateAll((all) => all.map((at) => at.firstChild.textContent)));
        assert.ok(events.every((e) => e.bells === 1 && !e.cancelled && e.sequence === 0));
        await page.reload();
        assert.ok(await page.locator('.day li.hands').count() > 10, 'a reload chooses no other');
        assert.deepEqual(await accessibility(page), []);
        await page.emulateMedia({ media: 'print' });
        assert.ok(await page.locator('.day li.hands .box').first().isVisible(), 'a box to tick on paper');
        assert.ok(await page.locator('.otherwise').isHidden());
        // A day, a page.
        const pages = (await PDFDocument.load(await page.pdf({ format: 'A4' }))).getPageCount();
        assert.equal(pages, await page.locator('.day-page').count());
        await page.emulateMedia({ media: 'screen' });
        // Late: two touches, from anywhere in the list.
        await page.locator('.day li.hands').last().scrollIntoViewIfNeeded();
        await page.getByRole('button', { name: 'An hour late' }).click();
        await page.getByRole('heading', { name: 'What to do now' }).waitFor();
        assert.deepEqual(await accessibility(page), []);
        await page.getByRole('button', { name: /^Do this/ }).first().click();
        await page.locator('.since').getByText(/No hands until .*planned again/).waitFor();
        const again = read(await page.evaluate(async () => (await fetch('/day/calendar.ics')).text()));
        assert.ok(again.every((e) => e.sequence === 1));
        assert.deepEqual(again.map((e) => e.uid).toSorted(), events.map((e) => e.uid).toSorted(), 'the same events, moved');
        const one = read(await page.evaluate(async () => (await fetch(document.querySelector('.step-act').href)).text()));
        assert.equal(one.length, 1);
        await page.getByText('What it all needs').click();
        assert.ok(await page.locator('.shopping tbody tr').count() > 4);
        await page.getByRole('button', { name: 'Plan again' }).click();
        await page.locator('.offer').first().waitFor();
      });
    });

    it('what is to be at another time is dragged there, or moved by keys, and set free again', async () => {
      await visit(house, '/day', viewport, async (page) => {
        await page.getByText('No plan is better than the first').waitFor();
        const notch = page.locator('.offer').first().locator('[data-move^="0:"]').nth(4);
        await notch.scrollIntoViewIfNeeded();
        const was = Number(await notch.getAttribute('data-step'));
        const name = await notch.getAttribute('data-title');
        const box = await notch.boundingBox();
        await page.mouse.move(box.x + 1, box.y + 6);
        await page.mouse.down();
        await page.mouse.move(box.x - 8, box.y + 6, { steps: 3 });
        await page.locator('[data-moving]').first().getByText(/Ready to cut|That cannot be/).waitFor();
        await Promise.all([page.waitForEvent('load'), page.mouse.up()]);
        assert.match(await page.locator('.set-row legend').innerText(), new RegExp(name.replace(/[^\w ]/g, '.')));
        const set = page.locator('.offer').first().locator(`[data-title="${name}"]`).first();
        assert.ok(Number(await set.getAttribute('data-step')) < was, 'it begins sooner');
        assert.deepEqual(await accessibility(page), []);
        // By keys, and back where it was.
        await set.focus();
        await page.keyboard.press('ArrowRight');
        await page.locator('[data-moving]').first().getByText(/Ready to cut|That cannot be/).waitFor();
        await Promise.all([page.waitForEvent('load'), page.keyboard.press('Enter')]);
        await page.getByRole('button', { name: /^Any time/ }).click();
        await page.waitForFunction(() => !document.querySelector('.set-row'));
        await page.getByText('No plan is better than the first').waitFor();
        // The time at which a bread is wanted is dragged too.
        const flag = page.locator('.offer').first().locator('.wanted').first();
        await flag.focus();
        await page.keyboard.press('ArrowLeft');
        await page.locator('[data-moving]').first().getByText(/Ready to cut/).waitFor();
        await Promise.all([page.waitForEvent('load'), page.keyboard.press('Enter')]);
        assert.equal(await page.locator('.dough-row').first().getByLabel('Time', { exact: true }).inputValue(), '17:55');
      });
    });

    it('a calendar that is chosen becomes hours away, to be looked at first', async () => {
      await visit(house, '/day', viewport, async (page) => {
        await page.getByText('Hours that are otherwise these days').click();
        await page.getByText('From a calendar').click();
        const day = await page.locator('fieldset.days input:checked').first().getAttribute('value');
        const events = `BEGIN:VEVENT\r\nUID:a\r\nSUMMARY:Choir\r\nDTSTART:${day.replaceAll('-', '')}T090000\r\nDURATION:PT90M\r\nEND:VEVENT`;
        const buffer = Buffer.from(`BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//a//b//EN\r\n${events}\r\nEND:VCALENDAR\r\n`);
        await page.locator('#calendar-file').setInputFiles({ name: 'mine.ics', mimeType: 'text/calendar', buffer });
        const row = page.locator('#otherwise .row').first();
        await row.waitFor();
        assert.equal(await row.getByLabel('What').inputValue(), 'Choir');
        assert.equal(await row.getByLabel('to', { exact: true }).inputValue(), '10:30');
        await row.getByRole('button', { name: /^Remove/ }).click();
        await page.getByRole('button', { name: 'Plan these days' }).click();
        await page.locator('.offer').first().waitFor();
        assert.deepEqual(await accessibility(page), []);
      });
    });

    it('a wish that cannot be is said, with the nearest plan, and a fault stands at its field', async () => {
      await visit(house, '/day', viewport, async (page) => {
        const row = page.locator('.dough-row').first();
        await row.locator('.chip').first().click();
        await row.getByLabel('Time', { exact: true }).fill('5:00');
        await row.getByText('What may not be changed').click();
        for (const pin of ['Not into the fridge', 'Yeast as written', 'Place as written']) await row.getByLabel(pin).check();
        await page.getByRole('button', { name: 'Plan these days' }).click();
        await page.locator('[data-test="gives-up"]').waitFor();
        assert.match(await page.locator('[data-test="gives-up"]').innerText(), /gives up/);
        await page.locator('.dough-row').first().getByLabel('Time', { exact: true }).fill('later');
        await page.getByRole('button', { name: 'Plan these days' }).click();
        await page.getByText('Give a time of day').waitFor();
        assert.equal(await page.locator('.dough-row').first().getByLabel('Time', { exact: true }).inputValue(), 'later');
      }, { expectErrors: true });
    });
  });
}
