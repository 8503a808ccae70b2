// Sets the light before the page is drawn, so that it does not flash, and brings out what needs scripts.
const chosen = localStorage.getItem('cerealis-light');
const dark = chosen ? chosen === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches;
document.documentElement.dataset.bsTheme = dark ? 'dark' : 'light';
document.documentElement.classList.add('js');
