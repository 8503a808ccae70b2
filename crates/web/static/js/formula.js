// The page of a formula: sends what is typed to the server, puts the answers where they belong, and says
// clearly what is saved. Registered with Alpine, whose CSP build reads names, not expressions.
//
// One rule holds it together: an answer that a later question has overtaken is dropped (`asked`, `waiting`).

import { colourCut, showSlider } from './cut.js';
import { AGAIN, TRIES, byId, say, showFault, steppers, Edit } from './fields.js';

const FAULT_DELAY = 600;

const bench = () => ({
  ...steppers,
  form: null,
  dirty: false,
  asked: 0,
  waiting: 0,
  faultTimer: 0,
  restTimer: 0,
  /** Stations that are not drawn, or not since the last change. */
  behind: new Set(),
  leaving: false,
  tries: 0,
  againTimer: 0,
  before: [],
  edit: null,
  last: '',

  init() {
    this.form = this.$el;
    this.edit = new Edit(this.form, () => this.undo());
    this.last = this.body({}).toString();
    this.dirty = this.form.dataset.dirty === 'true';
    this.fallBehind([this.form.dataset.here]);
    addEventListener('beforeunload', (event) => {
      if (this.dirty && !this.leaving) event.preventDefault();
    });
    addEventListener('popstate', () => this.walk(location.pathname.split('/').at(-1)));
    showSlider(this.form);
    this.wantRest();
  },

  typed(event) {
    if (event.target.matches('[data-cut-at]')) {
      colourCut(event.target.closest('[data-cut]'), Number(event.target.value));
      return;
    }
    const line = event.target.matches('input:not([type=checkbox]):not([type=radio])');
    // One change is one step back: what is typed, once it is left; anything else at once.
    if (event.type === 'change' || event.target !== this.edit.field) this.changed();
    // A text field has been heard by its input event; its change event brings nothing new.
    if (event.type === 'change' && line) return;
    this.mark(true);
    this.ask();
  },

  /** Remembers what the form was before a change. */
  changed() {
    this.edit.settle();
    const now = this.body({}).toString();
    if (now === this.last) return;
    this.before.push(this.last);
    // The button shows with the next answer: nothing moves under the finger that left the field.
    this.last = now;
  },

  pressed(event) {
    if (this.pressStep(event)) return;
    const stop = event.target.closest('a[data-station]');
    if (stop && !event.ctrlKey && !event.metaKey && !event.shiftKey) {
      event.preventDefault();
      this.go(stop.dataset.station);
      return;
    }
    const put = event.target.closest('[data-put]');
    if (put) {
      const field = byId(put.dataset.for);
      field.value = put.dataset.put;
      const night = byId(put.dataset.for.replace(/place$/, 'night'));
      if (night) night.value = put.dataset.night;
      field.dispatchEvent(new Event('input', { bubbles: true }));
      return;
    }
    const op = event.target.closest('[data-op]');
    if (op) {
      event.preventDefault();
      this.ask(op.dataset.op);
      return;
    }
    if (event.target.closest('[data-undo]')) {
      event.preventDefault();
      this.undo();
      return;
    }
    const over = event.target.closest('[data-over]');
    if (over) {
      event.preventDefault();
      this.save(over.value);
      return;
    }
    if (event.target.closest('[data-settings]')) this.openSettings(event.target.closest('.controls'));
    if (event.target.closest('[data-put-back], [data-other]')) this.leaving = true;
  },

  /** On a narrow page a station shows its first settings; the rest come at a press, and stay for this visit. */
  openSettings(controls) {
    const next = controls?.children[3];
    this.form.classList.add('all-settings');
    (next?.matches('input, select') ? next : next?.querySelector('input:not([type=hidden]), select, summary'))?.focus({ preventScroll: true });
  },

  /** Pulls a target's line up and down: the field follows in quarters, and everything with it. */
  grab(event) {
    const grip = event.target.closest('[data-pull]');
    if (!grip) return;
    event.preventDefault();
    const { pull, top, bottom, low, high } = grip.dataset;
    const svg = grip.ownerSVGElement;
    const { top: above, height } = svg.getBoundingClientRect();
    const scale = svg.viewBox.baseVal.height / height;
    const field = this.form.elements.namedItem(pull);
    const move = ({ clientY }) => {
      const y = (clientY - above) * scale;
      const times = Number(low) + ((Number(bottom) - y) / (bottom - top)) * (high - low);
      const target = String(Math.min(3, Math.max(1.25, Math.round(times * 4) / 4)));
      if (field.value === target) return;
      field.value = target;
      field.dispatchEvent(new Event('change', { bubbles: true }));
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', () => removeEventListener('pointermove', move), { once: true });
    addEventListener('pointercancel', () => removeEventListener('pointermove', move), { once: true });
  },

  /** All stations but these are behind. */
  fallBehind(drawn) {
    const all = [...this.form.querySelectorAll('[data-panel]')].map((panel) => panel.dataset.panel);
    this.behind = new Set(all.filter((station) => !drawn.includes(station)));
  },

  /** What takes longest at the station on show, once the change itself is there. */
  wantRest() {
    clearTimeout(this.restTimer);
    const { here } = this.form.dataset;
    if (this.behind.has(here) || this.slow()) this.restTimer = setTimeout(() => this.rest(here), 250);
  },

  /** Whether something at the station on show is still to be worked out. */
  slow() {
    return Boolean(this.form.querySelector(`[data-panel="${this.form.dataset.here}"] [data-ways]`));
  },

  /** Draws a station as the fields are now, with what takes longest there. */
  async rest(station) {
    clearTimeout(this.restTimer);
    // While a change is under way, the fields are not yet what they will be: its answer asks again.
    if (this.waiting > 0) return;
    const number = this.asked;
    const reply = await this.post(`${this.address()}/preview`, { ways: '1', quick: '1', here: station });
    if (!reply || number !== this.asked) return;
    if (station in reply.answer.html) {
      this.draw(station, reply.answer.html[station]);
      this.behind.delete(station);
    }
  },

  submitted(event) {
    event.preventDefault();
    this.save();
  },

  /** The address of this formula. */
  address() {
    return `/formulas/${this.form.dataset.id}`;
  },

  body(extra) {
    const fields = new URLSearchParams(new FormData(this.form));
    for (const [name, value] of Object.entries(extra)) fields.set(name, value);
    return fields;
  },

  /** Posts the form; null when the server cannot be reached, or could not do it just now. */
  async post(address, extra, body) {
    try {
      const response = await fetch(address, {
        method: 'POST',
        body: body ?? this.body(extra),
        headers: { Accept: 'application/json' },
      });
      if (!response.headers.get('content-type')?.startsWith('application/json')) throw new Error(String(response.status));
      const answer = await response.json();
      if (answer.error) {
        this.again = answer.again;
        this.trouble(`${answer.error} What you typed is still here.`);
        return null;
      }
      this.trouble('');
      this.tries = 0;
      return { status: response.status, answer };
    } catch {
      this.again = true;
      this.trouble('Cerealis does not answer. What you typed is still here, but not saved. If it was stopped, start it again.');
      return null;
    }
  },

  /** Asks what a change does; an answer that a later question has overtaken is dropped. */
  async ask(op) {
    const number = ++this.asked;
    clearTimeout(this.restTimer);
    this.waiting += 1;
    const was = op && !/^(try|leave)/.test(op) ? this.body({}).toString() : null;
    const reply = await this.post(`${this.address()}/preview`, op ? { op, quick: '1' } : { quick: '1' });
    this.waiting -= 1;
    if (!reply || number !== this.asked) {
      // The answer that counted may have come first, and left the station on show to be asked for when all are in.
      if (this.waiting === 0) this.wantRest();
      return;
    }
    if (was && !Object.keys(reply.answer.faults).length) this.before.push(was);
    this.take(reply.answer, op);
  },

  /** Takes the last change back. */
  async undo() {
    const was = this.before.pop();
    if (!was) return;
    const number = ++this.asked;
    const body = new URLSearchParams(was);
    for (const [name, value] of [['quick', '1'], ['redraw', '1'], ['here', this.form.dataset.here]]) body.set(name, value);
    const reply = await this.post(`${this.address()}/preview`, {}, body);
    if (!reply || number !== this.asked) return;
    this.take(reply.answer, 'undo');
    say('Taken back.');
  },

  take(answer, op) {
    // The rail and the station on show come at once; the others are behind until one walks there.
    for (const [place, html] of Object.entries(answer.html)) this.draw(place, html);
    if ('rail' in answer.html) this.fallBehind(Object.keys(answer.html));
    this.fill(answer.values);
    // What follows from a change belongs to it; while one types, the form was what it was before.
    if (op === 'undo') this.edit.settle();
    if (!this.edit.open) {
      this.edit.settle();
      this.last = this.body({}).toString();
    }
    this.hold(Object.keys(answer.faults).length > 0 || answer.general.length > 0);
    this.faults(answer, Boolean(op));
    this.mark(answer.dirty);
    this.form.querySelector('[data-undo]').hidden = this.before.length === 0;
    this.tell(answer);
    if (op?.startsWith('add:')) this.focusNewLine(op.slice(4));
    if (op?.startsWith('remove:')) this.focusLine(Number(op.slice(7)));
    if (op?.startsWith('try')) this.form.querySelector('.swap-shown')?.scrollIntoView({ block: 'nearest' });
    this.heed();
    // Who has walked on meanwhile waits for the station where they are now.
    const { here } = this.form.dataset;
    if (this.behind.has(here)) this.rest(here);
    else this.wantRest();
  },

  /** Puts what the server drew into its place: what is the same stays, and so does where the baker is. */
  draw(place, html) {
    const out = this.form.querySelector(`[data-out="${place}"]`);
    if (!out) return;
    const slid = out.querySelector('[data-cut-at]')?.value;
    const inside = out.contains(document.activeElement);
    // What is drawn has no directives of its own, so Alpine need not look through it.
    window.Alpine.mutateDom(() => {
      window.Idiomorph.morph(out, html, {
        morphStyle: 'innerHTML',
        ignoreActiveValue: true,
        callbacks: { beforeAttributeUpdated: (name, node) => !(name === 'open' && node.matches('details')) },
      });
    });
    // Whoever was at something that is gone stays near it.
    if (inside && !out.contains(document.activeElement)) {
      out.tabIndex = -1;
      out.focus({ preventScroll: true });
    }
    showSlider(out, slid);
  },

  /** Puts the server's text into the fields, but for the one that the baker is in. */
  fill(values) {
    for (const field of this.form.querySelectorAll('input, select, textarea')) {
      const { name, type } = field;
      // A field that somebody is at is theirs once they typed into it; until then it says what the others say.
      const at = field === document.activeElement;
      if (!(name in values) || (at && (this.edit.typed || field !== this.edit.field)) || name === 'revision' || name === 'here') continue;
      if (type === 'radio') field.checked = field.value === values[name];
      else if (type === 'checkbox') field.checked = values[name] !== '';
      else if (field.value !== values[name]) {
        field.value = values[name];
        if (at) field.select();
      }
    }
  },

  /** What moved on the rail, and what is wrong, in a sentence. */
  tell(answer) {
    const wrong = Object.keys(answer.faults).length + answer.general.length;
    if (wrong) {
      say(wrong === 1 ? 'One field is marked.' : `${wrong} fields are marked.`);
      return;
    }
    const text = (stop, part) => stop.querySelector(part)?.textContent.trim() ?? '';
    const moved = [...this.form.querySelectorAll('.stop.moved')];
    const said = moved.map((stop) => `${text(stop, '.stop-name')} ${text(stop, '.stop-figure')}, ${text(stop, '.stop-was')}`);
    say(said.length ? `${said.join('; ')}.` : '');
  },

  /** While fields cannot be read, the old answers stay, but are seen to be old. */
  hold(waiting) {
    for (const out of this.form.querySelectorAll('.answers, .rail')) out.classList.toggle('stale', waiting);
    this.form.querySelector('[data-stale]').hidden = !waiting;
  },

  /** Faults go at once; new ones wait a moment, for half a number is not a fault yet. */
  faults(answer, now) {
    clearTimeout(this.faultTimer);
    for (const place of this.form.querySelectorAll('[data-fault]:not([hidden])')) {
      if (!answer.faults[place.dataset.fault]) showFault(this.form, place.dataset.fault, '');
    }
    const say = () => {
      for (const [name, message] of Object.entries(answer.faults)) showFault(this.form, name, message);
      const general = this.form.querySelector('[data-general-faults]');
      general.replaceChildren(...answer.general.map((message) => Object.assign(document.createElement('p'), { className: 'fault', textContent: message })));
    };
    if (now || (!Object.keys(answer.faults).length && !answer.general.length)) say();
    else this.faultTimer = setTimeout(say, FAULT_DELAY);
  },

  focusNewLine(stage) {
    const rows = [...this.form.querySelectorAll(`[data-stage="${stage}"] input[list]`)];
    rows.findLast((input) => !input.value)?.focus();
  },

  focusLine(row) {
    const at = byId(`lines.${row}.ingredient`) ?? byId(`lines.${row - 1}.ingredient`);
    (at ?? this.form.querySelector('[data-out="lines"] button'))?.focus();
  },

  mark(dirty) {
    this.dirty = dirty;
    const saved = this.form.querySelector('[data-saved]');
    saved.textContent = dirty ? 'Not saved yet' : 'Saved';
    saved.toggleAttribute('data-unsaved', dirty);
    this.form.querySelector('[data-put-back]').hidden = !dirty;
  },

  async save(over) {
    ++this.asked;
    clearTimeout(this.againTimer);
    const reply = await this.post(this.address(), over ? { over } : {});
    if (!reply) {
      // A disk that is full or a file that is held may be free in a moment: it is tried again by itself.
      if (this.again && this.tries < TRIES) {
        this.tries += 1;
        this.againTimer = setTimeout(() => this.save(over), AGAIN);
      }
      return;
    }
    const { status, answer } = reply;
    this.form.querySelector('[data-conflict]').hidden = !answer.conflict;
    if (status === 200) {
      this.form.elements.namedItem('revision').value = answer.revision;
      this.form.elements.namedItem('reason').value = '';
      this.mark(false);
      this.ask();
      return;
    }
    if (answer.conflict) this.form.querySelector('[data-over]').value = answer.revision;
    this.hold(!answer.conflict);
    this.faults(answer, true);
    const first = Object.keys(answer.faults)[0];
    if (first) this.reveal(first);
  },

  /** Brings a faulty field into view, at whichever station it stands. */
  async reveal(name) {
    const field = this.form.elements.namedItem(name);
    const panel = field?.closest?.('[data-panel]');
    if (panel?.hidden) await this.go(panel.dataset.panel);
    if (field?.closest?.('.controls')) this.form.classList.add('all-settings');
    field?.focus?.();
  },

  /** Walks to a station: what a change did there is drawn before it is shown. */
  async walk(station) {
    if (this.behind.has(station)) await this.rest(station);
    return this.show(station);
  },

  async go(station) {
    if (!(await this.walk(station))) return;
    history.pushState(null, '', `${this.address()}/${station}`);
    scrollTo({ top: 0 });
  },

  /** Shows a station; false when there is none of that name. */
  show(station) {
    if (!this.form.querySelector(`[data-panel="${station}"]`)) return false;
    for (const panel of this.form.querySelectorAll('[data-panel]')) panel.hidden = panel.dataset.panel !== station;
    this.form.elements.namedItem('here').value = station;
    this.form.dataset.here = station;
    const name = station[0].toUpperCase() + station.slice(1);
    document.title = `${this.form.elements.namedItem('name').value}, ${name} · Cerealis`;
    this.heed();
    this.wantRest();
    return true;
  },

  /** Marks the station on show on the rail. */
  heed() {
    for (const stop of this.form.querySelectorAll('a[data-station]')) {
      if (stop.dataset.station === this.form.dataset.here) stop.setAttribute('aria-current', 'page');
      else stop.removeAttribute('aria-current');
    }
  },

  trouble(message) {
    const place = this.form.querySelector('[data-trouble]');
    place.textContent = message;
    place.hidden = !message;
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('bench', bench));
