// The bell: a sound for each dough, made here and growing; a shake of the device; a word outside the page, where that is
// allowed.

let context = null;

/** Browsers let a page be heard once it was touched. */
export function unlock() {
  context ??= 'AudioContext' in window ? new AudioContext() : null;
  context?.resume();
}

/** A stroke: when it begins and how long it sounds, s, and its pitch, Hz. None is shrill. */
const stroke = (at, hz, long = 0.6) => ({ at, hz, long });
const BELLS = {
  low: [stroke(0, 392)],
  high: [stroke(0, 784)],
  falling: [stroke(0, 659), stroke(0.28, 494)],
  rising: [stroke(0, 440, 0.3), stroke(0.18, 554, 0.3), stroke(0.36, 659)],
  knocks: [stroke(0, 294, 0.09), stroke(0.17, 294, 0.09)],
  trembles: [0, 1, 2, 3, 4, 5].map((n) => stroke(0.08 * n, n % 2 ? 587 : 523, 0.09)),
};

/** How often it is struck, each time louder, and how far apart, s. */
const TIMES = 4;
const APART = 1;

function sound({ at, hz, long }, volume) {
  const [tone, gain] = [context.createOscillator(), context.createGain()];
  tone.frequency.value = hz;
  gain.gain.setValueAtTime(0, at);
  gain.gain.linearRampToValueAtTime(volume, at + Math.min(0.05, long / 3));
  gain.gain.exponentialRampToValueAtTime(0.001, at + long);
  tone.connect(gain).connect(context.destination);
  tone.start(at);
  tone.stop(at + long + 0.05);
}

function strike(bell, times) {
  if (context?.state !== 'running') return;
  const begins = context.currentTime;
  for (let n = 0; n < times; n += 1) {
    for (const one of BELLS[bell] ?? BELLS.low) sound({ ...one, at: begins + APART * n + one.at }, 0.12 * (n + 5 - times));
  }
}

/** How a bell sounds, once, where it is chosen. */
export function hear(bell) {
  unlock();
  strike(bell, 1);
}

/** Rings for something; `late` minutes after it should have. */
export function ring(what, late, bell) {
  // A page that was never touched may not.
  if (navigator.userActivation?.hasBeenActive ?? true) navigator.vibrate?.([200, 100, 200]);
  if (document.visibilityState !== 'visible' && globalThis.Notification?.permission === 'granted') {
    new Notification(what, { body: late >= 1 ? `${late} min ago` : 'Now', tag: what });
  }
  strike(bell, TIMES);
}
