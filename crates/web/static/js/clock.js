// The kitchen's time on this device: what the server said, and what this device's steady count says has gone by since. Its
// clock on the wall may be wrong, or be set while the page is open, and shifts nothing.

/** Longer than this, ms, no answer is on its way: the device slept between question and answer. */
const ON_ITS_WAY = 20000;
/** How far the clock on the wall may go apart from the steady count, ms, before the kitchen is asked again. */
const APART = 2000;

/**
 * `wall` and `steady` give ms; the steady count never leaps, and may stand still while the device sleeps. `file` remembers by
 * how much this device's clock is wrong: a page that was kept here is opened without the kitchen, and its time is long ago.
 */
export function kitchenClock(wall = () => Date.now(), steady = () => performance.now(), file = localStorage) {
  let said = wall() + Number(file.getItem('cerealis-clock') ?? 0);
  let heard = steady();
  let apart = wall() - steady();
  let sure = false;
  let doubt = false;
  const leap = () => wall() - steady() - apart;
  return {
    steady,
    /** The kitchen's time, ms since 1970. */
    now: () => said + (steady() - heard),
    /** Whether the kitchen said its time, or is out of reach: before that nothing rings. */
    sure: () => sure,
    /** Takes the time that the page was written with: no page is from the future, and one from the past may have been kept. */
    written(server) {
      if (Number(server) > this.now() || (server && file.getItem('cerealis-clock') === null)) [said, heard] = [Number(server), steady()];
    },
    /** What is given back to `hear` with the answer. */
    asks: () => ({ at: steady(), apart: wall() - steady() }),
    /**
     * Takes the server's time from an answer to what was asked then: it was on its way for half of the time. When this device
     * slept meanwhile, or its clock was set, nobody knows how old it is: it is not taken, and `leapt` until another is.
     */
    hear(server, asked) {
      if (!server) return;
      const took = steady() - asked.at;
      doubt = took < 0 || took > ON_ITS_WAY || Math.abs(wall() - steady() - asked.apart) > APART;
      if (doubt) return;
      [said, heard, apart] = [Number(server) + took / 2, steady(), wall() - steady()];
      sure = true;
      file.setItem('cerealis-clock', String(Math.round(said - wall())));
    },
    /** Whether the two counts of this device have gone apart: it slept, or its clock was set. The kitchen knows which. */
    leapt: () => doubt || Math.abs(leap()) > APART,
    /** The kitchen is out of reach: a leap ahead was sleep, as it nearly always is, and one back was the clock being set. */
    guess() {
      said += Math.max(leap(), 0);
      apart += leap();
      doubt = false;
      sure = true;
    },
  };
}
