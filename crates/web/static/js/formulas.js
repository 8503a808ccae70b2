// The list of formulas: it is searched as one types.

const LATER = 160;

const seek = document.querySelector('[data-seek]');
let waiting = 0;
let asked = 0;

// An answer that a later question has overtaken is dropped.
async function search() {
  asked += 1;
  const own = asked;
  const wanted = new URLSearchParams([...new FormData(seek)].filter(([, value]) => value !== ''));
  const to = `${seek.getAttribute('action')}?${wanted}`;
  const answer = await fetch(to);
  if (!answer.ok || own !== asked) return;
  const page = new DOMParser().parseFromString(await answer.text(), 'text/html');
  const results = page.querySelector('[data-results]');
  if (!results) return;
  document.querySelector('[data-results]').replaceWith(results);
  document.querySelector('[data-says]').textContent = results.querySelector('[data-found]')?.textContent ?? '';
  history.replaceState(null, '', to);
}

seek?.addEventListener('input', () => {
  clearTimeout(waiting);
  waiting = setTimeout(search, LATER);
});
