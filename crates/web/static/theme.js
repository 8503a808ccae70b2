// Sets the light before the page is drawn, so that it does not flash, and brings out what needs scripts.
const chosen = localStorage.getItem('cerealis-light');
// At the bench it is dark while the household sleeps, whatever the device goes by.
const ofItsOwn = matchMedia('(prefers-color-scheme: dark)').matches || 'night' in document.documentElement.dataset;
const dark = chosen ? chosen === 'dark' : ofItsOwn;
document.documentElement.dataset.bsTheme = dark ? 'dark' : 'light';
document.documentElement.classList.add('js');
