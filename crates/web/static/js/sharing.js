// How strong a passphrase is, while it is typed.

const field = document.querySelector('[data-strength]');
const word = document.querySelector('[data-strength-word]');
let asked = 0;

field?.addEventListener('input', async () => {
  const mine = ++asked;
  const response = await fetch('/sharing/strength', {
    method: 'POST',
    body: new URLSearchParams({ passphrase: field.value }),
  }).catch(() => null);
  if (response?.ok && mine === asked) word.textContent = (await response.json()).word;
});
