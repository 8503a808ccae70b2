// What every page has: light, keys, help, the time zone, asking before one leaves.

import { AGAIN, inField } from './fields.js';

/** The light that the system has. */
const systemDark = matchMedia('(prefers-color-scheme: dark)');
/** Whether it is dark where nobody has chosen: by the system, and at the bench while the household sleeps. */
const darkOfItsOwn = () => systemDark.matches || 'night' in document.documentElement.dataset;

/** How often it is asked what is wrong with the kitchen's file, ms. */
const WATCHED = 10_000;

/** What every page has: light, help, keys, what is told once. */
const house = () => ({
  lightWord: '',
  questionKey: localStorage.getItem('cerealis-no-question') === null,

  init() {
    this.word();
    const follow = () => {
      if (localStorage.getItem('cerealis-light') === null) this.set(darkOfItsOwn() ? 'dark' : 'light');
    };
    systemDark.addEventListener('change', follow);
    document.addEventListener('cerealis-night', follow);
    this.notice(sessionStorage.getItem('cerealis-notice'));
    sessionStorage.removeItem('cerealis-notice');
    this.zone();
    this.guard();
    this.reach();
    setInterval(() => this.findings(), WATCHED);
    for (const form of document.querySelectorAll('form[data-again]')) setTimeout(() => form.requestSubmit(), AGAIN);
    // A page that came back with a fault shows it.
    const fault = document.querySelector('main .fault:not([hidden])');
    if (fault && !document.querySelector('#bench')) fault.scrollIntoView({ block: 'center' });
  },

  set(light) {
    document.documentElement.dataset.bsTheme = light;
    this.word();
  },
  word() {
    this.lightWord = document.documentElement.dataset.bsTheme === 'dark' ? 'Light' : 'Dark';
  },
  /** The other light; the system's own is followed again once it is what is wanted. */
  light() {
    const next = document.documentElement.dataset.bsTheme === 'dark' ? 'light' : 'dark';
    if ((next === 'dark') === darkOfItsOwn()) localStorage.removeItem('cerealis-light');
    else localStorage.setItem('cerealis-light', next);
    this.set(next);
  },
  help() {
    this.$refs.help.showModal();
  },
  /** The single key can be switched off, for those who speak to their machine. */
  setQuestion(event) {
    this.questionKey = event.target.checked;
    if (this.questionKey) localStorage.removeItem('cerealis-no-question');
    else localStorage.setItem('cerealis-no-question', '1');
  },

  /** What the watch on the kitchen's file has found since this page was opened. */
  async findings() {
    const place = document.querySelector('[data-findings]');
    if (!place || document.hidden) return;
    const answer = await fetch('/watch', { cache: 'no-store' }).catch(() => null);
    if (answer?.status !== 200) return;
    const told = await answer.text();
    const keys = (of) => [...of.querySelectorAll('[data-finding]')].map((f) => f.dataset.finding).join();
    const fresh = new DOMParser().parseFromString(told, 'text/html').body;
    if (keys(fresh) !== keys(place)) place.replaceChildren(...fresh.children);
  },

  notice(text) {
    const place = document.querySelector('[data-notice]');
    if (!place || !text) return;
    place.textContent = text;
    place.hidden = false;
  },

  /** A new kitchen takes the time zone of the first browser that looks at it. */
  async zone() {
    const first = document.querySelector('[data-zone]');
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
    if (!first || !timeZone) return;
    const response = await fetch('/kitchen/zone', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ zone: timeZone }),
    }).catch(() => null);
    if (response?.status !== 200) return;
    const told = `Clock times go by ${timeZone}, as this browser has it. The Kitchen page changes that.`;
    if (first.dataset.zone === timeZone) {
      this.notice(told);
      if (!document.querySelector('form [name=revision]')) return;
    }
    sessionStorage.setItem('cerealis-notice', told);
    location.reload();
  },

  /** Out of reach a page says since when it is as it stands, and keeps what is typed until the kitchen answers again. */
  reach() {
    const { readAt, visitor } = document.body.dataset;
    const key = `cerealis-typed ${location.pathname}`;
    const forms = [...document.querySelectorAll('form[method=post]')];
    const typed = JSON.parse(sessionStorage.getItem(key) ?? 'null');
    if (readAt) {
      const at = new Date(readAt).toLocaleString([], { weekday: 'short', hour: '2-digit', minute: '2-digit' });
      this.notice(`Out of reach: this is how it was on ${at}. What you type here stays until the kitchen answers again.`);
      addEventListener('input', () => {
        const all = forms.map((form) => [...new FormData(form)].filter(([name, value]) => name !== 'passphrase' && typeof value === 'string'));
        sessionStorage.setItem(key, JSON.stringify(all));
      });
      // The laptop may have slept: no event of this device tells that it is back.
      const look = () => fetch('/manifest.webmanifest', { cache: 'no-store' }).then((r) => r.ok && location.reload(), () => {});
      addEventListener('online', look);
      setInterval(look, 3000);
    }
    if (typed) {
      typed.forEach((fields, n) => {
        for (const [name, value] of fields) {
          const field = forms[n]?.elements.namedItem(name);
          if (field && 'value' in field && field.type !== 'hidden') field.value = value;
        }
      });
      if (!readAt) {
        sessionStorage.removeItem(key);
        this.notice('What you typed while the kitchen was out of reach is back in its fields. Save it.');
        forms.forEach((form) => form.dispatchEvent(new Event('input', { bubbles: true })));
      }
    }
    if (!('serviceWorker' in navigator)) return;
    // Who is not known keeps nothing of what others read here.
    if (visitor === 'nobody') caches.keys().then((all) => all.filter((c) => c.includes('-read-')).forEach((c) => caches.delete(c)));
    navigator.serviceWorker.register('/worker.js').then((registration) => {
      const takeOver = () => registration?.waiting?.postMessage('take-over');
      takeOver();
      // The page of a bake that was just left may be counted still.
      setInterval(takeOver, 3000);
      registration?.addEventListener('updatefound', () => {
        const fresh = registration.installing;
        fresh?.addEventListener('statechange', () => fresh.state === 'installed' && fresh.postMessage('take-over'));
      });
    }, () => {});
  },

  /** Leaving a page with something typed and not sent asks first. */
  guard() {
    for (const form of document.querySelectorAll('form[data-guard]')) {
      let typed = form.dataset.guard === 'typed';
      form.addEventListener('input', () => (typed = true));
      form.addEventListener('submit', () => (typed = false));
      form.addEventListener('saved', () => (typed = false));
      addEventListener('beforeunload', (event) => typed && event.preventDefault());
    }
  },

  key(event) {
    if (event.key === '?' && this.questionKey && !inField(event.target)) {
      event.preventDefault();
      this.help();
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
      const save = document.querySelector('[data-save]');
      if (!save) return;
      event.preventDefault();
      save.click();
    } else if ((event.ctrlKey || event.metaKey) && event.key === 'z' && !inField(event.target)) {
      const undo = document.querySelector('[data-undo]:not([hidden])');
      if (!undo) return;
      event.preventDefault();
      undo.click();
    } else if (event.altKey && /^Digit[1-6]$/.test(event.code)) {
      const stops = document.querySelectorAll('#bench a[data-station]');
      if (!stops.length) return;
      event.preventDefault();
      const stop = stops[Number(event.code.at(-1)) - 1];
      stop.click();
      stop.focus();
    }
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('house', house));
