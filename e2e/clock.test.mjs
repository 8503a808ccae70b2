// The kitchen's time on a device: whatever its own clock does, timers count as the kitchen's does.

import assert from 'node:assert/strict';
import { it } from 'node:test';
import { kitchenClock } from '../crates/web/static/js/clock.js';

const MINUTE = 60_000;

/** A device: how wrong its clock is, what went by, how long its steady count stood still, what it remembers. */
function device({ wrong = 0, remembers = null } = {}) {
  const kitchen = 1_795_000_000_000;
  const at = { passed: 0, wrong, stood: 0 };
  const file = new Map(remembers === null ? [] : [['cerealis-clock', String(remembers)]]);
  const storage = { getItem: (name) => file.get(name) ?? null, setItem: (name, value) => file.set(name, value) };
  const clock = kitchenClock(() => kitchen + at.passed + at.wrong, () => at.passed - at.stood, storage);
  return { at, clock, kitchen: () => kitchen + at.passed, off: () => clock.now() - (kitchen + at.passed), remembered: () => Number(storage.getItem('cerealis-clock')) };
}

/** Numbers as by chance, the same at each run (a linear congruence; common practice, no source). */
function chances(seed) {
  let state = seed;
  return (upTo) => {
    state = (state * 1103515245 + 12345) % 2 ** 31;
    return Math.floor((state / 2 ** 31) * upTo);
  };
}

it('after an answer the time is right to half of the way there and back, whatever the clock did meanwhile', () => {
  for (let seed = 1; seed <= 500; seed += 1) {
    const chance = chances(seed);
    const { at, clock, kitchen, off, remembered } = device({ wrong: (chance(1000) - 500) * MINUTE });
    clock.written(kitchen());
    for (let n = 0; n < 20; n += 1) {
      const [there, back] = [chance(3000), chance(3000)];
      const asked = clock.asks();
      at.passed += there;
      const said = kitchen();
      at.passed += back;
      // Between question and answer the clock is set, by days at times, or the device sleeps; another answer comes then.
      const [sets, sleeps] = [chance(4) === 0, chance(4) === 0];
      if (sets) at.wrong += (chance(4000) - 2000) * MINUTE + MINUTE / 2;
      if (sleeps) {
        at.passed += 100 * MINUTE;
        at.stood += chance(2) * 100 * MINUTE;
      }
      clock.hear(String(said), asked);
      assert.equal(clock.leapt(), sets || sleeps, `seed ${seed}`);
      if (clock.leapt()) clock.hear(kitchen(), clock.asks());
      assert.ok(!clock.leapt());
      assert.ok(Math.abs(off()) <= Math.max(there, back), `seed ${seed}: off by ${off()} ms after ${there} and ${back}`);
      assert.ok(Math.abs(remembered() + at.wrong) <= Math.max(there, back));
      const before = off();
      at.passed += chance(100 * MINUTE);
      at.wrong += (chance(600) - 300) * MINUTE;
      assert.equal(off(), before, 'a clock that is set shifts nothing');
    }
  }
});

it('a clock that is set, and a device that slept, are both noticed', () => {
  const set = device();
  set.clock.hear(set.kitchen(), set.clock.asks());
  set.at.passed += 5 * MINUTE;
  assert.ok(!set.clock.leapt());
  set.at.wrong -= 20 * MINUTE;
  assert.ok(set.clock.leapt());
  set.clock.guess();
  assert.equal(set.off(), 0, 'back is the clock being set, where nobody can be asked');

  const asleep = device();
  asleep.clock.hear(asleep.kitchen(), asleep.clock.asks());
  asleep.at.passed += 20 * MINUTE;
  asleep.at.stood += 20 * MINUTE;
  assert.ok(asleep.clock.leapt());
  assert.equal(asleep.off(), -20 * MINUTE);
  asleep.clock.guess();
  assert.equal(asleep.off(), 0, 'ahead is sleep, where nobody can be asked');
  assert.ok(!asleep.clock.leapt());
});

it('a page that was kept here opens at the right time without the kitchen, and rings nothing before it is sure', () => {
  const wrong = 37 * MINUTE;
  const { clock, kitchen, off } = device({ wrong, remembers: -wrong });
  clock.written(kitchen() - 300 * MINUTE);
  assert.equal(off(), 0);
  assert.ok(!clock.sure());
  clock.guess();
  assert.ok(clock.sure());
  assert.equal(off(), 0);
});

it('a device that was never here believes the page', () => {
  const { clock, kitchen, off } = device({ wrong: 90 * MINUTE });
  clock.written(kitchen());
  assert.equal(off(), 0);
});
