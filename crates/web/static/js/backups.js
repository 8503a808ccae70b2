// Asks before a backup is restored, and takes in one that is kept elsewhere.

for (const button of document.querySelectorAll('[data-ask]')) {
  button.addEventListener('click', (event) => {
    if (!confirm(button.dataset.ask)) event.preventDefault();
  });
}

const file = document.querySelector('[data-bring]');
file?.addEventListener('change', async () => {
  const [chosen] = file.files;
  if (!chosen || !confirm(`The kitchen becomes as it is in “${chosen.name}”. How it is now is backed up first. Restore?`)) {
    file.value = '';
    return;
  }
  const response = await fetch('/backups/bring', {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: chosen,
  }).catch(() => null);
  const page = response && new DOMParser().parseFromString(await response.text(), 'text/html');
  const main = page?.querySelector('main');
  // What came of it stands on the page that came back; its list is loaded with its buttons.
  const says = main?.querySelector('.banner:not([hidden])')?.textContent ?? 'The file did not arrive. Try again.';
  sessionStorage.setItem('cerealis-notice', says);
  location.href = '/backups';
});
