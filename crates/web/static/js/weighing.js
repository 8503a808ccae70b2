// Weighing in: which line is on the scale, what the kitchen says of it, and several lines on one tare.

/** `id` is the bake, `press` sends what is taken, `listen` asks the kitchen anew what the scale means. */
export function weighing(id, { press, listen }) {
  let line = null;
  const kept = (name, otherwise) => JSON.parse(sessionStorage.getItem(`${name}-${id}`) ?? otherwise);
  const keep = (name, value) => sessionStorage.setItem(`${name}-${id}`, JSON.stringify(value));
  /** Whether lines come on top of each other, and those that were tared away. */
  let together = kept('cerealis-together', 'false');
  let tared = new Set(kept('cerealis-tared', '[]'));

  const card = () => document.querySelector('[data-card]:not([hidden])');
  const lines = () => [...(card()?.querySelectorAll('[data-weigh] .weigh-line') ?? [])];
  const isWeighed = (row) => row.classList.contains('weighed');

  /** What stands on the scale from the lines before, g. */
  function base() {
    if (!together) return 0;
    const there = lines().filter((row) => isWeighed(row) && !tared.has(row.dataset.line));
    return there.reduce((sum, row) => sum + Number(row.dataset.grams), 0);
  }

  function totals() {
    let on = base();
    for (const row of lines()) {
      const place = row.querySelector('[data-total]');
      place.hidden = !together || isWeighed(row);
      if (place.hidden) continue;
      on += Number(row.dataset.grams);
      place.textContent = `to ${Math.round(10 * on) / 10} g on the scale`;
    }
    for (const button of document.querySelectorAll('[data-together]')) button.setAttribute('aria-pressed', String(together));
  }

  /** What is there now was tared away: by the button, or because lines are put on top of it from now on. */
  function tare() {
    tared = new Set(lines().filter(isWeighed).map((row) => row.dataset.line));
    keep('cerealis-tared', [...tared]);
    totals();
    listen();
  }

  /** What goes with a line that is taken: by itself its scale is tared then. */
  const taken = (grams) => ({ grams: `${grams} g`, ...(together ? {} : { scale: '1' }) });

  return {
    /** What the kitchen is asked: the line, and what stands beneath it. */
    asks: (query) => {
      if (line === null) return;
      query.set('line', String(line));
      if (base() > 0) query.set('base', String(base()));
    },

    /** The line that is on the scale: the first that is not weighed yet. */
    looks() {
      const open = lines().find((row) => !isWeighed(row));
      for (const other of document.querySelectorAll('.weigh-line.active')) if (other !== open) other.classList.remove('active');
      open?.classList.add('active');
      totals();
      const next = open ? Number(open.dataset.line) : null;
      if (next === line) return;
      line = next;
      listen();
    },

    /** The kitchen says what the scale shows. */
    said(said) {
      const row = document.querySelector(`.weigh-line.active[data-line="${said.line}"]`);
      if (!row || said.line !== line) return;
      const live = row.querySelector('[data-live]');
      live.hidden = false;
      live.querySelector('[data-bar]').style.setProperty('--part', Math.max(Math.min(said.part, 1.1), 0));
      live.dataset.say = said.say;
      const text = said.say === 'empty' ? `Put on ${said.says}` : `${Math.round(said.grams)} g. ${said.says}`;
      const place = live.querySelector('[data-weigh-says]');
      const whole = said.over ? `${text} ${said.over.says}` : text;
      if (place.textContent !== whole) place.textContent = whole;
      const over = live.querySelector('[data-over]');
      over.hidden = !said.over || !said.steady || 'out' in row.dataset;
      if (said.over) {
        over.querySelector('[data-over-scale]').value = `scale:${said.over.scale.toFixed(4)}`;
        over.dataset.grams = said.grams;
      }
      if (said.say !== 'over') delete row.dataset.out;
      if (said.take === null || row.dataset.taken) return;
      row.dataset.taken = '1';
      press(`weigh:${said.line}`, row.closest('form'), taken(said.take));
    },

    /** The scale is gone: the line says so, and touch goes on. */
    gone() {
      const live = document.querySelector('.weigh-line.active [data-live]');
      if (!live) return;
      live.hidden = false;
      live.querySelector('[data-weigh-says]').textContent = 'The scale is gone. Tick it off by touch.';
    },

    /** A click at the list; whether it was one. */
    clicked(at) {
      if (at('[data-over-out]')) at('.weigh-line').dataset.out = '1';
      else if (at('[data-together]')) {
        together = !together;
        keep('cerealis-together', together);
        tare();
      } else if (at('[data-tare]')) {
        fetch('/instruments', { method: 'POST', headers: { 'Content-Type': 'application/x-www-form-urlencoded' }, body: 'op=tare' });
        tare();
      } else return false;
      return true;
    },

    /** A button of a line was pressed; whether it was one of these. */
    submitted(op, form, button) {
      const row = button?.closest('.weigh-line');
      if (!row) return false;
      const { grams } = row.querySelector('[data-over]').dataset;
      if ('overLeave' in button.dataset) press(op, form, taken(grams));
      else if ('overScale' in button.dataset) press(`weigh:${row.dataset.line}`, form, taken(grams)).then(() => press(op, form));
      else press(op, form, { grams: '' });
      return true;
    },
  };
}
