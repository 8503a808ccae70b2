// What several pages share: fields that are stepped and told what is wrong, a sentence said, patience.

export const byId = (id) => document.getElementById(id);
export const inField = (target) => target.matches('input, select, textarea');

/** Steps the figure of a stepper by its own step, from its placeholder when it is empty. */
function step(input, by) {
  const typed = Number.parseFloat((input.value || input.placeholder).replace(',', '.'));
  const from = Number.isFinite(typed) ? typed : 20;
  input.value = String(Math.round((from + by) * 1000) / 1000);
  input.dispatchEvent(new Event('input', { bubbles: true }));
}

/** Steppers, shared by the page of a formula and the kitchen. */
export const steppers = {
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

export function showFault(form, name, message) {
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

/** A sentence for those who hear the page; said when nothing has changed for a moment. */
let sayTimer = 0;
export const say = (sentence) => {
  clearTimeout(sayTimer);
  sayTimer = setTimeout(() => {
    const place = document.querySelector('[data-says]');
    if (place && sentence) place.textContent = sentence;
  }, 700);
};

/** How long a save that the server could not take is waited with before it is tried again, ms. */
export const AGAIN = 3000;
/** How many times. */
export const TRIES = 20;
