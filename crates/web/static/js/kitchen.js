// The Kitchen page.

import { steppers } from './fields.js';

const kitchen = () => ({
  ...steppers,
  pressed(event) {
    this.pressStep(event);
  },
  typed() {
    this.$el.closest('form').querySelector('[data-saved]').textContent = 'Not saved yet';
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('kitchen', kitchen));
