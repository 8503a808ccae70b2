// The Kitchen page: steps, and the pans drawn as they are typed.

import { steppers } from './fields.js';

const LATER = 250;

const kitchen = () => ({
  ...steppers,
  waiting: 0,
  asked: 0,
  pressed(event) {
    this.pressStep(event);
  },
  typed(event) {
    const form = this.$el.closest('form');
    form.querySelector('[data-saved]').textContent = 'Not saved yet';
    if (event.target.closest('[data-pan]')) {
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.draw(form), LATER);
    }
  },
  // An answer that a later question has overtaken is dropped.
  async draw(form) {
    this.asked += 1;
    const own = this.asked;
    const answer = await fetch('/kitchen/draw', { method: 'POST', body: new URLSearchParams(new FormData(form)) });
    if (!answer.ok || own !== this.asked) return;
    for (const pan of await answer.json()) {
      const row = form.querySelector(`[data-pan="${pan.row}"]`);
      if (!row) continue;
      row.querySelector('[data-picture]').innerHTML = pan.picture;
      row.querySelector('[data-holds]').textContent = pan.holds;
    }
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('kitchen', kitchen));
