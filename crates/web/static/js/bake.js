// The bench: presses that are kept until the kitchen has them, timers that count by the server's clock, what the
// instruments show. What there is to do, and when, comes from the server.

import { steppers } from './fields.js';
import { kitchenClock } from './clock.js';
import { hear, ring, unlock } from './bell.js';
import { small } from './photo.js';
import { keep, kept, forget } from './waiting.js';
import { weighing } from './weighing.js';

const page = document.querySelector('[data-bake]');
const part = document.getElementById('part');
const today = document.querySelector('[data-today]');
const id = page?.dataset.bake;

const clock = kitchenClock();
const { now } = clock;

const minutesOf = (ms) => {
  const all = Math.round(ms / 1000);
  const [hours, minutes, seconds] = [Math.floor(all / 3600), Math.floor(all / 60) % 60, all % 60];
  if (hours) return `${hours} h ${String(minutes).padStart(2, '0')}`;
  return `${minutes}:${String(seconds).padStart(2, '0')}`;
};

/** What a timer shows: what is left, or how long it is over. */
const shows = (rings) => {
  const left = rings - now();
  return left >= 0 ? minutesOf(left) : `${Math.max(Math.floor(-left / 60000), 0)} min over`;
};

/** A page that did not count for so long, ms, slept. */
const SLEEPS = 20000;

/** Timers that have rung, by what rings and when. */
const rung = new Set(JSON.parse(sessionStorage.getItem('cerealis-rung') ?? '[]'));
let ticked = clock.steady();
const title = document.title;

function tick() {
  const slept = clock.leapt() || clock.steady() - ticked > SLEEPS;
  ticked = clock.steady();
  if (slept && today) location.reload();
  else if (slept) fresh();
  let over = '';
  for (const place of document.querySelectorAll('[data-rings]')) {
    const rings = Number(place.dataset.rings);
    const text = shows(rings);
    if (place.textContent !== text) place.textContent = text;
    place.classList.toggle('over', rings < now());
    const what = place.dataset.ringsFor;
    if (!what || rings > now() || !clock.sure()) continue;
    if (!place.closest('[hidden]')) over ||= what;
    const once = `${what} ${rings}`;
    if (rung.has(once)) continue;
    rung.add(once);
    sessionStorage.setItem('cerealis-rung', JSON.stringify([...rung].slice(-40)));
    const late = Math.floor((now() - rings) / 60000);
    if (late >= 1) tell(`${what}: it rang ${late} min ago${slept ? ', while this device slept' : ''}.`);
    ring(what, late, place.dataset.bell);
  }
  document.title = over ? `● ${over}` : title;
}

function tell(text) {
  const place = document.querySelector('[data-said]');
  if (place) place.textContent = text;
  saidAt = Date.now();
}

/** What is looked at: the step that is now, unless arrows went elsewhere. */
let looked = 0;
let onShow = null;
function look() {
  const cards = [...document.querySelectorAll('[data-card]')].filter((c) => !isGone(c.dataset.card));
  looked = Math.max(0, Math.min(looked, cards.length - 1));
  for (const card of document.querySelectorAll('[data-card]')) card.hidden = true;
  cards.forEach((card, n) => {
    card.hidden = n !== looked;
    const only = card.querySelector('[data-looked]');
    if (only) only.hidden = n === 0;
  });
  // Whoever goes by keys or by ear goes along: the card that had the focus is hidden now.
  const shown = cards[looked];
  if (onShow && shown && shown.dataset.card !== onShow && (document.activeElement === document.body || document.activeElement?.closest('[data-card]'))) {
    // Its heading: what has the focus is drawn anew without its children.
    shown.querySelector('h2').focus({ preventScroll: true });
  }
  onShow = shown?.dataset.card;
  scale.looks();
  tick();
}

/** Steps that were done here and are not known to the kitchen yet, by the press. */
const gone = new Map();
const isGone = (step) => [...gone.values()].includes(step);
const ends = (key, op) => {
  const [word, step] = op.split(':');
  if (word === 'done' || word === 'skip') gone.set(key, step);
  return gone.has(key);
};

/** What was said last, and when: it is not taken away by what is drawn anew for another reason. */
let saidAt = 0;
const SAID_FOR = 15000;

/** Draws what is new into what is there: an open sheet stays open, and what is typed stays typed. */
function draw(html) {
  globalThis.Idiomorph.morph(part, html, {
    morphStyle: 'innerHTML',
    ignoreActiveValue: true,
    callbacks: {
      // What somebody opened stays open, and the move of a plait that they are at stays theirs.
      beforeAttributeUpdated: (name, node) => name !== 'data-later' && !(name === 'open' && node.matches('details')),
      beforeNodeMorphed: (old, fresh) => {
        // What this page wrote itself is its own.
        if (old.matches?.('[data-kept]')) return false;
        // So is what was typed or stepped here, until it is taken.
        if (old.matches?.('input') && old.value !== old.defaultValue) return false;
        if (!old.matches?.('[data-said]')) return true;
        if (fresh.textContent.trim()) saidAt = Date.now();
        return Boolean(fresh.textContent.trim()) || Date.now() - saidAt > SAID_FOR;
      },
    },
  });
  seq = Number(part.querySelector('.bake-part')?.dataset.seq ?? seq);
  settle();
}

/** After something new is drawn. */
function settle() {
  const night = 'night' in (part.querySelector('.bake-part')?.dataset ?? {});
  if (night !== 'night' in document.documentElement.dataset) {
    document.documentElement.toggleAttribute('data-night', night);
    document.dispatchEvent(new Event('cerealis-night'));
  }
  for (const aloud of document.querySelectorAll('[data-aloud]')) aloud.hidden = !('speechSynthesis' in window);
  probes();
  look();
}

/** The bake on show stands in the rail where it can be seen. */
function railed() {
  const here = document.querySelector('.bake-rail [aria-current]');
  if (!here) return;
  const [rail, its] = [here.parentElement, here.getBoundingClientRect()];
  const room = rail.getBoundingClientRect();
  rail.scrollLeft += its.left - room.left - (room.width - its.width) / 2;
}

let seq = Number(part?.querySelector('.bake-part')?.dataset.seq ?? 0);
let asking = false;

async function fresh() {
  if (!page || asking) return;
  asking = true;
  const asked = clock.asks();
  try {
    const response = await fetch(`/bakes/${id}/part`, { cache: 'no-store' });
    if (response.ok && !response.redirected) {
      const html = await response.text();
      clock.hear(/data-now="(\d+)"/.exec(html)?.[1], asked);
      draw(html);
    }
  } catch {
    // Out of reach: what is there stays.
    clock.guess();
  } finally {
    asking = false;
  }
}

// Presses.

async function send({ body, photo, query }) {
  const asked = clock.asks();
  const [to, sends] = photo ? [`/bakes/${id}/photos?${query}`, photo.type] : [`/bakes/${id}`, 'application/x-www-form-urlencoded'];
  const response = await fetch(to, { method: 'POST', headers: { 'Content-Type': sends, Accept: 'application/json' }, body: photo ?? body });
  const type = response.headers.get('Content-Type') ?? '';
  if (type.startsWith('text/html')) {
    const html = await response.text();
    clock.hear(/data-now="(\d+)"/.exec(html)?.[1], asked);
    return { html, ok: true };
  }
  const answer = await response.json().catch(() => ({}));
  return { ok: response.ok, error: answer.error ?? 'That did not work.', again: answer.again };
}

/** The name of a press, made where it was pressed. */
const named = () => (crypto.randomUUID ? crypto.randomUUID() : `${Date.now()}-${Math.random().toString(16).slice(2)}`);

/** Which field a button takes, where it has not its name. */
const FIELD = { note: 'text', next: 'text' };

async function press(op, form, more = {}) {
  const fields = new URLSearchParams();
  for (const [name, value] of new FormData(form)) if (typeof value === 'string' && value) fields.set(name, value);
  fields.set('op', op);
  for (const [name, value] of Object.entries(more)) fields.set(name, value);
  const key = named();
  fields.set('key', key);
  fields.set('at', String(Math.round(now())));
  if (ends(key, op)) {
    // The next step is there at once; the kitchen's answer puts right what it knows better. What was said is of the last one.
    tell('');
    saidAt = 0;
    scrollTo({ top: 0, behavior: 'instant' });
    looked = 0;
    look();
  }
  document.querySelector('.bake-sheet[open]')?.removeAttribute('open');
  const used = document.getElementsByName(FIELD[op] ?? op.replace(/^read:/, ''))[0];
  if (used) used.defaultValue = used.value;
  const body = fields.toString();
  await keep({ key, bake: id, body });
  await flush();
}

let flushing = false;
/** The last event that was heard of. */
let heard = 0;
async function flush() {
  if (flushing) return;
  flushing = true;
  let reached = true;
  let left = await kept(id);
  while (left.length && reached) {
    const [waits] = left;
    try {
      const answer = await send(waits);
      reached = answer.ok || !answer.again;
      if (reached) {
        await forget(waits.key);
        // Its own card goes with what is drawn, and not before.
        if (answer.html) draw(answer.html);
        else tell(answer.error);
        gone.delete(waits.key);
      }
    } catch {
      reached = false;
    }
    left = await kept(id);
  }
  flushing = false;
  for (const { key, body } of left) ends(key, new URLSearchParams(body).get('op') ?? '');
  const place = document.querySelector('[data-waits]');
  if (place) {
    place.hidden = left.length === 0;
    const some = left.length === 1 ? 'one press waits here, and goes there by itself' : `${left.length} presses wait here, and go there by themselves`;
    place.textContent = `The kitchen is out of reach: ${some}.`;
  }
  look();
  if (heard > seq) fresh();
  if (left.length) setTimeout(flush, 3000);
}

// What the instruments show.

let events = null;
const scale = weighing(id, { press, listen });

const shown = {};
function instrument(said) {
  shown[said.kind] = said.gone ? null : said.value;
  const section = document.querySelector(`[data-instrument="${said.address}"]`);
  if (section) {
    section.querySelector('[data-value]').textContent = said.value === null ? '—' : String(said.value);
    section.querySelector('[data-gone]').textContent = said.gone ? `It is not there: ${said.gone}.` : '';
  }
  if (said.kind === 'probe') probes();
  if (said.kind === 'scale' && said.gone) scale.gone();
}

function probes() {
  for (const button of document.querySelectorAll('[data-probe]')) {
    button.hidden = typeof shown.probe !== 'number';
    if (!button.hidden) button.querySelector('[data-probe-value]').textContent = String(shown.probe);
  }
}

/** Listens to what happens, from the last that is known. */
function listen() {
  events?.close();
  const query = new URLSearchParams();
  if (id) query.set('bake', id);
  scale.asks(query);
  if (seq) query.set('after', String(seq));
  events = new EventSource(`/live?${query}`);
  events.addEventListener('hello', (event) => {
    const said = JSON.parse(event.data);
    clock.hear(said.now, clock.asks());
    if (page) flush();
    if (said.seq > seq) fresh();
  });
  events.addEventListener('bake', (event) => {
    const said = JSON.parse(event.data);
    heard = Math.max(heard, said.seq);
    // What was pressed here is on its way back with its own answer.
    if (page && said.seq > seq && !flushing) fresh();
    if (today) location.reload();
  });
  events.addEventListener('error', clock.guess);
  events.addEventListener('behind', fresh);
  events.addEventListener('weigh', (event) => scale.said(JSON.parse(event.data)));
  events.addEventListener('shows', (event) => instrument(JSON.parse(event.data)));
}

// The page.

function clicked(event) {
  const at = (selector) => event.target.closest(selector);
  if (steppers.pressStep(event) || scale.clicked(at)) return;
  if (at('[data-next-picture]')) {
    const all = [...at('[data-pictures]').querySelectorAll('figure')];
    const here = all.findIndex((f) => !('later' in f.dataset));
    all.forEach((f, n) => f.toggleAttribute('data-later', n !== (here + 1) % all.length));
  } else if (at('[data-back]')) step(-1);
  else if (at('[data-forward]')) step(1);
  else if (at('[data-aloud]')) aloud();
  else if (at('button[data-bell]')) hear(at('button[data-bell]').dataset.bell);
  else if (at('[data-notify]')) Notification?.requestPermission?.();
  else if (at('[data-fresh]')) {
    event.preventDefault();
    fresh();
  }
}

function step(by) {
  looked += by;
  document.querySelector('.bake-sheet[open]')?.removeAttribute('open');
  look();
}

function aloud() {
  const card = document.querySelector('[data-card]:not([hidden])');
  const text = [...card.querySelectorAll('h2, [data-read], .bake-says')].map((p) => p.textContent).join('. ');
  speechSynthesis.cancel();
  speechSynthesis.speak(new SpeechSynthesisUtterance(text));
}

function submitted(event) {
  const form = event.target.closest('form[data-press]');
  if (!form) {
    if (!event.target.closest('[data-instruments]')) return;
    event.preventDefault();
    fetch('/instruments', { method: 'POST', headers: { 'Content-Type': 'application/x-www-form-urlencoded' }, body: new URLSearchParams({ op: event.submitter.value }) });
    return;
  }
  event.preventDefault();
  const button = event.submitter;
  // Enter in a field presses what stands beside it.
  const op = button?.value || document.activeElement?.closest('.row-form')?.querySelector('button')?.value;
  if (!op) return;
  if (scale.submitted(op, form, button)) return;
  // What is chosen already was pressed to be heard.
  if (button?.getAttribute('aria-pressed') === 'true' && 'bell' in button.dataset) return;
  if (button && 'probe' in button.dataset) press(op, form, { [button.dataset.probe]: `${shown.probe} °C` });
  else press(op, form);
}

/** A photo waits like any press, until the kitchen has it. */
async function chosen(event) {
  if (!event.target.matches('[data-photo]')) return;
  const [file] = event.target.files;
  event.target.value = '';
  const photo = file ? await small(file) : null;
  if (!photo) return tell('This browser cannot read that picture.');
  const query = new URLSearchParams({ key: named(), at: String(Math.round(now())) });
  await keep({ key: query.get('key'), bake: id, body: '', photo, query: query.toString() });
  await flush();
}

function keyed(event) {
  if (event.target.matches('input, textarea, select') || event.ctrlKey || event.metaKey || event.altKey || document.querySelector('dialog[open]')) return;
  const card = document.querySelector('[data-card]:not([hidden])');
  const act = {
    ' ': () => !event.target.matches('button, summary, a') && card?.querySelector('[data-done]')?.click(),
    ArrowLeft: () => step(-1),
    ArrowRight: () => step(1),
    u: () => (card ?? document).querySelector('[data-undo]')?.click(),
    t: () => card?.querySelector('[data-longer]')?.click(),
    r: () => card?.querySelector('[data-sheet=reading]')?.toggleAttribute('open'),
  }[event.key];
  if (!act || (event.key === ' ' && event.target.matches('button, summary, a'))) return;
  event.preventDefault();
  act();
}

/** The screen stays on while a bake is open. */
async function awake() {
  const place = document.querySelector('[data-awake]');
  if (!place || document.visibilityState !== 'visible') return;
  if (!navigator.wakeLock) {
    place.textContent = 'This browser cannot keep the screen on: set the device to stay on.';
    return;
  }
  await navigator.wakeLock.request('screen').then(() => (place.textContent = ''), () => {});
}

document.addEventListener('click', clicked);
document.addEventListener('submit', submitted);
document.addEventListener('change', chosen);
// What is opened below the screen's edge is shown.
document.addEventListener('toggle', ({ target }) => target.matches('.bake-sheet[open]') && target.scrollIntoView({ block: 'nearest', behavior: 'instant' }), true);
addEventListener('pointerdown', unlock, { once: true });
if (page) {
  clock.written(part.querySelector('.bake-part')?.dataset.now);
  addEventListener('keydown', keyed);
  addEventListener('online', flush);
  document.addEventListener('visibilitychange', () => {
    if (document.visibilityState !== 'visible') return;
    awake();
    fresh();
  });
  awake();
  settle();
  railed();
  flush();
} else {
  clock.written(today?.dataset.now);
}
if (!events) listen();
setInterval(tick, 250);
tick();
