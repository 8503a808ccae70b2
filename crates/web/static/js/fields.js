// What several pages share: fields that are stepped and told what is wrong, a sentence said, patience.

export const byId = (id) => document.getElementById(id);
export const inField = (target) => target.matches('input, select, textarea');

/** A field into which one types: what stood there is put back in one step. */
const ONE_LINE = 'input:not([type=checkbox]):not([type=radio]):not([type=hidden]):not([type=range])';

/** What somebody types into a form, and what stood in the field before. */
export class Edit {
  field = null;
  was = '';
  /** Whether it was typed into: what an answer writes is no change of somebody's. */
  typed = false;

  /** `back` takes the last change back, where nothing is being typed. */
  constructor(form, back) {
    form.addEventListener('focusin', ({ target }) => {
      this.field = target.matches(ONE_LINE) ? target : null;
      this.settle();
    });
    form.addEventListener('input', (event) => {
      if (event.isTrusted && event.target === this.field) this.typed = true;
    }, { capture: true });
    form.addEventListener('keydown', (event) => {
      const takesBack = (event.ctrlKey || event.metaKey) && !event.shiftKey && event.key.toLowerCase() === 'z';
      if (!takesBack || !event.target.matches(ONE_LINE)) return;
      event.preventDefault();
      if (this.open) this.drop();
      else back();
    });
  }

  /** Whether something is typed that is not a change yet. */
  get open() {
    return this.typed && this.field !== null && this.field.value !== this.was;
  }

  /** Puts back what stood there. */
  drop() {
    this.field.value = this.was;
    this.typed = false;
    this.field.dispatchEvent(new Event('input', { bubbles: true }));
  }

  /** What stands there is what stood there, from now on. */
  settle() {
    this.was = this.field?.value ?? '';
    this.typed = false;
  }
}

/** A time of day so many minutes later, to steps of five, on the clock that it is written by. */
function later(text, by) {
  const said = /^\s*(\d{1,2})[:.]?(\d{2})?\s*([ap])?/i.exec(text);
  const [hour, minute] = said ? [Number(said[1]), Number(said[2] ?? 0)] : [12, 0];
  const half = said?.[3]?.toLowerCase();
  const of24 = half ? (hour % 12) + (half === 'p' ? 12 : 0) : hour;
  const five = (by > 0 ? Math.floor : Math.ceil)((60 * of24 + minute) / 5) * 5;
  const at = (((five + by) % 1440) + 1440) % 1440;
  const [h, m] = [Math.floor(at / 60), String(at % 60).padStart(2, '0')];
  return half ? `${((h + 11) % 12) + 1}:${m} ${h < 12 ? 'am' : 'pm'}` : `${String(h).padStart(2, '0')}:${m}`;
}

/** Steps the figure of a stepper by its own step, from its placeholder when it is empty. */
function step(input, by) {
  if ('clock' in input.dataset) {
    input.value = later(input.value || input.placeholder, by);
    input.dispatchEvent(new Event('input', { bubbles: true }));
    return;
  }
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
