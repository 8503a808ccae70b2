// Bringing in a recipe from a file.

import { byId } from './fields.js';

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

document.addEventListener('alpine:init', () => window.Alpine.data('bring', bring));
