// The Kitchen page: each change is saved by itself and can be undone; rows come and go in place; pans are drawn as
// they are typed. Without it the page is one form with a Save button.

import { Edit, showFault, steppers } from './fields.js';

const LATER = 250;

const kitchen = () => ({
  ...steppers,
  form: null,
  drawing: 0,
  saving: 0,
  asked: 0,
  /** What the form was before each change that is saved, and what it was last. */
  before: [],
  last: '',
  queue: Promise.resolve(),

  init() {
    this.form = this.$el;
    this.last = this.body();
    this.edit = new Edit(this.form, () => this.undo());
  },

  body(extra = {}) {
    const fields = new URLSearchParams(new FormData(this.form));
    for (const [name, value] of Object.entries(extra)) fields.set(name, value);
    return fields.toString();
  },

  say(text) {
    this.form.querySelector('[data-saved]').textContent = text;
  },

  pressed(event) {
    if (this.pressStep(event)) {
      this.saveSoon();
      return;
    }
    if (event.target.closest('[data-undo]')) {
      this.undo();
      return;
    }
    const op = event.target.closest('button[name=op]');
    if (!op) return;
    event.preventDefault();
    this.redraw(this.body({ op: op.value }), op.value);
  },

  typed(event) {
    this.say('Not saved yet');
    if (!event.target.closest('[data-pan]')) return;
    clearTimeout(this.drawing);
    this.drawing = setTimeout(() => this.draw(), LATER);
  },

  changed() {
    this.saveSoon();
  },

  submitted(event) {
    if (event.submitter?.name === 'over') return;
    event.preventDefault();
    this.save(true);
  },

  saveSoon() {
    clearTimeout(this.saving);
    this.saving = setTimeout(() => this.save(), LATER);
  },

  /** Saves what is typed, one after the other: each names the revision that the one before it made. */
  save(pressed = false) {
    clearTimeout(this.saving);
    this.queue = this.queue.then(() => this.saveNow(pressed));
    return this.queue;
  },

  /** Rows that are not filled yet wait, unless a press asks for them. */
  async saveNow(pressed) {
    const now = this.body();
    const waiting = pressed && this.form.querySelector('[name^="fresh."]');
    if (now === this.last && !waiting) {
      this.say('Saved');
      return;
    }
    const answer = await this.post(pressed ? this.body({ pressed: '1' }) : now);
    if (!answer) return;
    for (const place of this.form.querySelectorAll('[data-fault]:not([hidden])')) {
      if (!answer.faults[place.dataset.fault]) showFault(this.form, place.dataset.fault, '');
    }
    for (const [name, message] of Object.entries(answer.faults)) showFault(this.form, name, message);
    if (answer.conflict) {
      // The page as it is there says so, and keeps what was typed.
      this.form.removeAttribute('data-guard');
      HTMLFormElement.prototype.submit.call(this.form);
      return;
    }
    if (!answer.saved) {
      this.say('Not saved: a field is marked');
      return;
    }
    // What was typed meanwhile is not saved by it.
    const kept = new URLSearchParams(now);
    kept.set('revision', answer.revision);
    if (!answer.unfinished) {
      for (const mark of this.form.querySelectorAll('[name^="fresh."]')) {
        kept.delete(mark.name);
        mark.remove();
      }
    }
    this.before.push(this.last);
    const units = this.units(this.last) !== this.units(now);
    this.form.elements.namedItem('revision').value = answer.revision;
    this.last = kept.toString();
    const faulty = Object.keys(answer.faults).length > 0;
    if (!faulty && this.body() === this.last) this.form.dispatchEvent(new Event('saved'));
    if (units) {
      location.reload();
      return;
    }
    const oven = this.form.querySelector('[data-test="this-oven"]');
    if (oven) oven.textContent = answer.oven;
    this.form.querySelector('[data-undo]').hidden = false;
    if (this.body() !== this.last) this.saveSoon();
    else if (faulty) this.say('Saved, but for what is marked');
    else this.say('Saved');
  },

  /** The notation that a body asks for: another one draws the page anew. */
  units(body) {
    const fields = new URLSearchParams(body);
    return ['units', 'weights', 'lengths', 'clock'].map((name) => fields.get(name)).join();
  },

  async undo() {
    const was = this.before.pop();
    if (!was) return;
    const fields = new URLSearchParams(was);
    fields.set('revision', this.form.elements.namedItem('revision').value);
    fields.set('op', 'undo');
    await this.redraw(fields.toString(), 'undo');
    this.form.querySelector('[data-undo]').hidden = this.before.length === 0;
  },

  /** Draws the page as the server makes it of what was sent, and saves what became of it. */
  async redraw(body, op) {
    const response = await fetch('/kitchen', {
      method: 'POST',
      headers: { 'Content-Type': 'application/x-www-form-urlencoded' },
      body,
    }).catch(() => null);
    if (!response?.ok) {
      this.say('Cerealis does not answer. What you typed is still here.');
      return;
    }
    const page = new DOMParser().parseFromString(await response.text(), 'text/html');
    const grid = this.form.querySelector('.kitchen-grid');
    window.Alpine.mutateDom(() => {
      window.Idiomorph.morph(grid, page.querySelector('.kitchen-grid'), { morphStyle: 'outerHTML' });
    });
    this.say('Not saved yet');
    const before = this.before.length;
    if (op.startsWith('add:')) {
      const added = this.form.querySelectorAll(`[name^="fresh.${op.slice(4)}."]`);
      added[added.length - 1]?.closest('li')?.querySelector('input:not([type=hidden]), select')?.focus();
    }
    await this.save();
    if (op === 'undo') this.before.length = before;
  },

  async post(body) {
    try {
      const response = await fetch('/kitchen', {
        method: 'POST',
        headers: { Accept: 'application/json', 'Content-Type': 'application/x-www-form-urlencoded' },
        body,
      });
      const answer = await response.json();
      if (!answer.error) return answer;
      this.say(answer.error);
    } catch {
      this.say('Cerealis does not answer. What you typed is still here, but not saved.');
    }
    return null;
  },

  // An answer that a later question has overtaken is dropped.
  async draw() {
    this.asked += 1;
    const own = this.asked;
    const answer = await fetch('/kitchen/draw', { method: 'POST', body: new URLSearchParams(new FormData(this.form)) });
    if (!answer.ok || own !== this.asked) return;
    for (const pan of await answer.json()) {
      const row = this.form.querySelector(`[data-pan="${pan.row}"]`);
      if (!row) continue;
      row.querySelector('[data-picture]').innerHTML = pan.picture;
      row.querySelector('[data-holds]').textContent = pan.holds;
    }
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('kitchen', kitchen));

/** Calls an instrument, and says who answers. */
document.addEventListener('click', async (event) => {
  const button = event.target.closest('[data-try-instrument]');
  if (!button) return;
  const row = button.closest('li');
  const says = row.querySelector('[data-tried]');
  says.textContent = 'It is called.';
  const address = row.querySelector('input[name$=address]').value;
  const answer = await fetch('/instruments/test', { method: 'POST', headers: { Accept: 'application/json' }, body: new URLSearchParams({ address }) }).catch(() => null);
  says.textContent = answer?.ok ? (await answer.json()).says : 'Cerealis does not answer.';
});
