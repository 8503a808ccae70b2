// The bench: sends what is typed to the server, puts the answers where they belong, and says
// clearly what is saved. Registered with Alpine, whose CSP build reads names, not expressions.

const FAULT_DELAY = 600;

const byId = (id) => document.getElementById(id);
const inField = (target) => target.matches('input, select, textarea');

/** Steps the figure of a stepper by its own step, from its placeholder when it is empty. */
function step(input, by) {
  const typed = Number.parseFloat((input.value || input.placeholder).replace(',', '.'));
  const from = Number.isFinite(typed) ? typed : 20;
  input.value = String(Math.round((from + by) * 1000) / 1000);
  input.dispatchEvent(new Event('input', { bubbles: true }));
}

/** Steppers, shared by the bench and the kitchen. */
const steppers = {
  stepKey(event) {
    const size = Number.parseFloat(event.target.dataset?.stepSize);
    if (!size || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    step(event.target, event.key === 'ArrowUp' ? size : -size);
  },
  pressStep(event) {
    const button = event.target.closest('[data-step]');
    if (button) step(byId(button.dataset.for), Number.parseFloat(button.dataset.step));
    return Boolean(button);
  },
};

function showFault(form, name, message) {
  const place = byId(`fault-${name}`);
  if (place) {
    place.textContent = message;
    place.hidden = !message;
  }
  const input = form.elements.namedItem(name);
  const marked = input instanceof RadioNodeList ? [...input] : [input];
  for (const one of marked.filter(Boolean)) {
    if (message) one.setAttribute('aria-invalid', 'true');
    else one.removeAttribute('aria-invalid');
  }
}

/** A colour between stops of [temperature, [r, g, b]]. */
const between = (stops, t) => {
  let i = 1;
  while (i < stops.length - 1 && t > stops[i][0]) i += 1;
  const [[t0, a], [t1, b]] = [stops[i - 1], stops[i]];
  const k = Math.min(1, Math.max(0, (t - t0) / (t1 - t0)));
  return `rgb(${a.map((x, n) => Math.round(x + k * (b[n] - x))).join(',')})`;
};

/** Colours a cut loaf for one of its moments. */
const colourCut = (figure, at) => {
  const { stops, moments } = JSON.parse(figure.dataset.cut);
  const { t, crust, says } = moments[at];
  for (const part of figure.querySelectorAll('[data-at]')) {
    const [face, band] = part.dataset.at.split(':').map(Number);
    part.setAttribute('fill', between(stops, (t[face][band] + t[face][band + 1]) / 2));
  }
  for (const rim of figure.querySelectorAll('[data-crust]')) rim.setAttribute('stroke', crust);
  figure.querySelector('[data-cut-says]').textContent = says;
};

/** The slider only works with scripts, so they bring it out, where it was left. */
const showSlider = (out, slid) => {
  const slider = out.querySelector('[data-cut-at]');
  if (!slider) return;
  slider.closest('.slide').hidden = false;
  if (slid === undefined || Number(slid) >= Number(slider.max)) return;
  slider.value = slid;
  colourCut(slider.closest('[data-cut]'), Number(slid));
};

const bench = () => ({
  ...steppers,
  form: null,
  dirty: false,
  asked: 0,
  waiting: 0,
  faultTimer: 0,
  restTimer: 0,
  behind: false,
  leaving: false,

  init() {
    this.form = this.$el;
    this.dirty = this.form.dataset.dirty === 'true';
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
    // A text field has been heard by its input event; its change event brings nothing new.
    if (event.type === 'change' && event.target.matches('input:not([type=checkbox]):not([type=radio])')) return;
    this.mark(true);
    this.ask();
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
    const over = event.target.closest('[data-over]');
    if (over) {
      event.preventDefault();
      this.save(over.value);
      return;
    }
    if (event.target.closest('[data-put-back], [data-other]')) this.leaving = true;
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

  /** The other stations, and what takes longest at the one on show, once the change itself is there. */
  wantRest() {
    clearTimeout(this.restTimer);
    if (this.behind || this.slow()) this.restTimer = setTimeout(() => this.rest(), 250);
  },

  /** Whether something at the station on show is still to be worked out. */
  slow() {
    return Boolean(this.form.querySelector(`[data-panel="${this.form.dataset.here}"] [data-ways]`));
  },

  async rest() {
    clearTimeout(this.restTimer);
    // While a change is under way, the fields are not yet what they will be: its answer asks again.
    if (this.waiting > 0) return;
    const number = this.asked;
    const reply = await this.post(`${this.address()}/preview`, { ways: '1' });
    if (!reply || number !== this.asked) return;
    const { here } = this.form.dataset;
    for (const [place, html] of Object.entries(reply.answer.html)) {
      if (place === here ? this.slow() : this.behind) this.draw(place, html);
    }
    this.behind = false;
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

  /** Posts the form; null when the server cannot be reached. */
  async post(address, extra) {
    try {
      const response = await fetch(address, {
        method: 'POST',
        body: this.body(extra),
        headers: { Accept: 'application/json' },
      });
      if (!response.headers.get('content-type')?.startsWith('application/json')) throw new Error(String(response.status));
      this.trouble('');
      return { status: response.status, answer: await response.json() };
    } catch {
      this.trouble('Cerealis does not answer. What you typed is still here, but not saved. Start it again, then press Save.');
      return null;
    }
  },

  /** Asks what a change does; an answer that a later question has overtaken is dropped. */
  async ask(op) {
    const number = ++this.asked;
    clearTimeout(this.restTimer);
    this.waiting += 1;
    const reply = await this.post(`${this.address()}/preview`, op ? { op, quick: '1' } : { quick: '1' });
    this.waiting -= 1;
    if (!reply || number !== this.asked) return;
    this.take(reply.answer, op);
  },

  take(answer, op) {
    // The rail and the station on show come first; the others are behind until they are asked for.
    for (const [place, html] of Object.entries(answer.html)) this.draw(place, html);
    this.behind ||= 'rail' in answer.html;
    this.fill(answer.values);
    this.hold(Object.keys(answer.faults).length > 0 || answer.general.length > 0);
    this.faults(answer, Boolean(op));
    this.mark(answer.dirty);
    if (op?.startsWith('add:')) this.focusNewLine(op.slice(4));
    if (op?.startsWith('try')) this.form.querySelector('.swap-shown')?.scrollIntoView({ block: 'nearest' });
    this.heed();
    // Who has walked on meanwhile waits for the station where they are now.
    if (this.behind && !(this.form.dataset.here in answer.html)) this.rest();
    else this.wantRest();
  },

  draw(place, html) {
    const out = this.form.querySelector(`[data-out="${place}"]`);
    if (!out) return;
    const open = [...out.querySelectorAll('details[open]')].map((one) => one.id);
    const slid = out.querySelector('[data-cut-at]')?.value;
    // What is drawn has no directives of its own, so Alpine need not look through it.
    window.Alpine.mutateDom(() => {
      out.innerHTML = html;
    });
    for (const one of out.querySelectorAll('details')) one.open = open.includes(one.id);
    showSlider(out, slid);
  },

  /** Puts the server's text into the fields, but for the one that the baker is in. */
  fill(values) {
    for (const field of this.form.querySelectorAll('input[type=hidden], input:not([type]), input[type=text]')) {
      const { name } = field;
      if (!(name in values) || field === document.activeElement || name === 'revision' || name === 'here') continue;
      if (field.value !== values[name]) field.value = values[name];
    }
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

  mark(dirty) {
    this.dirty = dirty;
    const saved = this.form.querySelector('[data-saved]');
    saved.textContent = dirty ? 'Not saved yet' : 'Saved';
    saved.toggleAttribute('data-unsaved', dirty);
    this.form.querySelector('[data-put-back]').hidden = !dirty;
  },

  async save(over) {
    ++this.asked;
    const reply = await this.post(this.address(), over ? { over } : {});
    if (!reply) return;
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
    field?.focus?.();
  },

  /** Walks to a station: what a change did there is drawn before it is shown. */
  async walk(station) {
    if (this.behind) await this.rest();
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

const kitchen = () => ({
  ...steppers,
  pressed(event) {
    this.pressStep(event);
  },
  typed() {
    this.$el.closest('form').querySelector('[data-saved]').textContent = 'Not saved yet';
  },
});

/** The largest file that is taken in, in bytes; the server holds to the same. */
const FILE_MAX = 1024 * 1024;

const bring = () => ({
  /** A file's text goes where it could have been pasted, and is read from there. */
  async chosen(event) {
    const file = event.target.matches('[data-file]') ? event.target.files[0] : null;
    if (!file) return;
    const form = event.target.form;
    const fault = form.querySelector('[data-file-fault]');
    fault.hidden = file.size <= FILE_MAX;
    fault.textContent = fault.hidden ? '' : `“${file.name}” is larger than ${FILE_MAX / 1024} kB. Bring in a part of it.`;
    event.target.value = '';
    if (!fault.hidden) return;
    byId('text').value = await file.text();
    form.querySelector('button[value="read"]').click();
  },
});

/** What every page has: light, help, keys. */
const house = () => ({
  lightWord: '',
  init() {
    this.word();
  },
  word() {
    this.lightWord = document.documentElement.dataset.bsTheme === 'dark' ? 'Light' : 'Dark';
  },
  light() {
    const next = document.documentElement.dataset.bsTheme === 'dark' ? 'light' : 'dark';
    document.documentElement.dataset.bsTheme = next;
    localStorage.setItem('cerealis-light', next);
    this.word();
  },
  help() {
    this.$refs.help.showModal();
  },
  key(event) {
    if (event.key === '?' && !inField(event.target)) {
      event.preventDefault();
      this.help();
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
      const save = document.querySelector('[data-save]');
      if (!save) return;
      event.preventDefault();
      save.click();
    } else if (event.altKey && /^Digit[1-6]$/.test(event.code)) {
      const stops = document.querySelectorAll('#bench a[data-station]');
      if (!stops.length) return;
      event.preventDefault();
      stops[Number(event.code.at(-1)) - 1].click();
    }
  },
});

const printer = () => ({
  print() {
    window.print();
  },
});

document.addEventListener('alpine:init', () => {
  window.Alpine.data('bench', bench);
  window.Alpine.data('bring', bring);
  window.Alpine.data('kitchen', kitchen);
  window.Alpine.data('house', house);
  window.Alpine.data('printer', printer);
});
