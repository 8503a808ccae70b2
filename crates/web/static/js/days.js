// The Day page: times are stepped, the picture begins at what comes next, planning says that it is under way.

import { steppers } from './fields.js';

const days = () => ({
  ...steppers,
  init() {
    for (const figure of this.$el.querySelectorAll('.days-figure')) {
      const now = figure.querySelector('line.moment');
      if (now) figure.scrollLeft = Math.max(0, now.getBoundingClientRect().left - figure.getBoundingClientRect().left - 40);
    }
  },
  pressed(event) {
    if (this.pressStep(event)) return;
    if (event.target.closest('[data-print]')) print();
    if (event.target.closest('[data-plan]')) {
      document.querySelector('[data-planning]').textContent = 'Planning, a few seconds.';
    }
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('days', days));
