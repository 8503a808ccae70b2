// The Day page: times are stepped, pictures begin at what comes next, what is dragged in them is planned while it moves,
// and better plans come when they are found.

import { steppers } from './fields.js';

const MINUTES = 5;

const days = () => ({
  ...steppers,
  form: null,
  /** What is being moved: its handle, and the step of the clock that it is at. */
  moving: null,
  asked: 0,
  busy: false,

  init() {
    this.form = this.$el;
    this.beginAtNow();
    this.look();
  },

  beginAtNow() {
    for (const figure of this.form.querySelectorAll('.days-figure')) {
      const now = figure.querySelector('line.moment');
      if (now) figure.scrollLeft = Math.max(0, now.getBoundingClientRect().left - figure.getBoundingClientRect().left - 40);
    }
  },

  /** Better plans than those that were found at once: they take the place of what is shown, unless something is moved. */
  async look() {
    const part = this.form.querySelector('#offers');
    if (!part?.querySelector('[data-looking]')) return;
    const response = await fetch('/day/searched').catch(() => null);
    const text = response?.ok ? await response.text() : '';
    if (!text || this.moving) return;
    const held = document.activeElement?.closest('#offers') ? document.activeElement : null;
    const page = new DOMParser().parseFromString(text, 'text/html');
    const found = page.querySelector('#offers');
    const still = found.querySelector('[data-looking]');
    if (still) still.textContent = still.dataset.looking;
    part.replaceWith(document.importNode(found, true));
    // What had the focus has it in the new one.
    if (held) {
      const same = held.dataset.move ? `[data-move="${CSS.escape(held.dataset.move)}"]` : '[name=op]';
      this.form.querySelector(`#offers ${same}`)?.focus();
    }
    this.beginAtNow();
  },

  pressed(event) {
    if (this.pressStep(event)) return;
    const print = event.target.closest('[data-print]');
    if (print) this.print(print.dataset.print);
    if (event.target.closest('[data-stop]')) fetch('/day/stop', { method: 'POST' });
    if (event.target.closest('[data-plan]')) {
      document.querySelector('[data-planning]').textContent = 'Planning.';
    }
  },

  /** Prints the days, or one dough of them. */
  print(dough) {
    const lists = this.form.querySelector('[data-lists]');
    if (dough !== '') {
      for (const row of lists.querySelectorAll('li')) row.classList.toggle('not-printed', row.dataset.dough !== dough);
    }
    print();
    for (const row of lists.querySelectorAll('.not-printed')) row.classList.remove('not-printed');
  },

  async chosen(event) {
    const file = event.target.closest('[data-calendar]')?.files[0];
    if (!file) return;
    this.form.querySelector('#calendar-text').value = await file.text();
    this.send('absences');
  },

  /** Presses a button that is not on the page. */
  send(op, fields = {}) {
    for (const [name, value] of Object.entries({ ...fields, op })) {
      const field = Object.assign(document.createElement('input'), { type: 'hidden', name, value });
      this.form.append(field);
    }
    this.form.dispatchEvent(new Event('saved'));
    HTMLFormElement.prototype.submit.call(this.form);
  },

  /** The step of the clock under a pointer. */
  stepAt(svg, x) {
    const box = svg.getBoundingClientRect();
    const { from, left, hour } = svg.dataset;
    const scale = svg.viewBox.baseVal.width / box.width;
    const minutes = Number(from) + (((x - box.left) * scale - Number(left)) / Number(hour)) * 60;
    return Math.round(minutes / MINUTES);
  },

  down(event) {
    const handle = event.target.closest('[data-move]');
    if (!handle || event.button > 0) return;
    event.preventDefault();
    const svg = handle.closest('svg');
    const step = Number(handle.dataset.step);
    this.moving = { ...handle.dataset, figure: svg.closest('.days-figure'), off: step - this.stepAt(svg, event.clientX), step };
    handle.focus();
  },

  drag(event) {
    if (!this.moving) return;
    const svg = this.moving.figure.querySelector('svg');
    this.to(this.stepAt(svg, event.clientX) + this.moving.off);
  },

  up() {
    if (this.moving) this.set();
  },

  /** Arrow keys move what has the focus; Enter sets it there, Escape leaves it as it was. */
  moveKey(event) {
    const handle = event.target.closest?.('[data-move]');
    if (!handle) return;
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -6, PageUp: 6 }[event.key];
    if (by) {
      event.preventDefault();
      this.moving ??= { ...handle.dataset, figure: handle.closest('.days-figure'), off: 0, step: Number(handle.dataset.step) };
      this.to(this.moving.step + by);
    }
    if (event.key === 'Enter' && this.moving) {
      event.preventDefault();
      this.set();
    }
    if (event.key === 'Escape' && this.moving) location.reload();
  },

  to(step) {
    if (step === this.moving.step) return;
    this.moving.step = step;
    this.moving.moved = true;
    this.tryIt();
  },

  /** What the plan would be with it there: one question at a time, the last one last. */
  async tryIt() {
    this.asked += 1;
    if (this.busy) return;
    this.busy = true;
    let answered = 0;
    while (this.moving && answered !== this.asked) {
      answered = this.asked;
      const { figure, move, step, title } = this.moving;
      const body = new URLSearchParams({ move: `${move}:${step}`, key: figure.dataset.key ?? '' });
      const response = await fetch('/day/try', { method: 'POST', body }).catch(() => null);
      if (!response?.ok || !this.moving) break;
      const answer = await response.json();
      if (!this.moving) break;
      const says = figure.parentElement.querySelector('[data-moving]');
      says.textContent = `${title || 'Wanted'}: ${answer.when}. ${answer.says}`;
      if (answer.picture) {
        figure.querySelector('[data-drawn]').innerHTML = answer.picture;
        figure.querySelector(`[data-move="${CSS.escape(move)}"]`)?.focus();
      }
    }
    this.busy = false;
  },

  set() {
    const { figure, move, step, title, moved } = this.moving;
    this.moving = null;
    if (!moved) return;
    const op = `${figure.closest('.days-taken') ? 'shift' : 'move'}:${move}:${step}`;
    this.send(op, { [`title.${op}`]: title });
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('days', days));
