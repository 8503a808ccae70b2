// The bell: a tone for each dough, made here and growing; a shake of the device; a word outside the page, where that is
// allowed.

let context = null;

/** Browsers let a page be heard once it was touched. */
export function unlock() {
  context ??= 'AudioContext' in window ? new AudioContext() : null;
  context?.resume();
}

/** A pitch of its own for each thing that rings, Hz: a fourth apart at most, so that none is shrill. */
const pitch = (what) => 523 * 2 ** (([...what].reduce((sum, c) => sum + c.charCodeAt(0), 0) % 6) / 12);

/** Rings for something; `late` minutes after it should have. */
export function ring(what, late) {
  // A page that was never touched may not.
  if (navigator.userActivation?.hasBeenActive ?? true) navigator.vibrate?.([200, 100, 200]);
  if (document.visibilityState !== 'visible' && globalThis.Notification?.permission === 'granted') {
    new Notification(what, { body: late >= 1 ? `${late} min ago` : 'Now', tag: what });
  }
  if (context?.state !== 'running') return;
  const begins = context.currentTime;
  for (let n = 0; n < 4; n += 1) {
    const [tone, volume] = [context.createOscillator(), context.createGain()];
    const at = begins + 0.7 * n;
    tone.frequency.value = pitch(what);
    volume.gain.setValueAtTime(0, at);
    volume.gain.linearRampToValueAtTime(0.12 * (n + 1), at + 0.05);
    volume.gain.exponentialRampToValueAtTime(0.001, at + 0.6);
    tone.connect(volume).connect(context.destination);
    tone.start(at);
    tone.stop(at + 0.65);
  }
}
