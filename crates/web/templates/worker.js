// Keeps what a page is drawn with, and the pages that were read last, for when the kitchen cannot be reached.

const EDITION = '{{ edition }}';
const SHELL = `cerealis-shell-${EDITION}`;
const READ = `cerealis-read-${EDITION}`;
const FILES = [{% for f in files %}'{{ f }}', {% endfor %}'/offline'];
/** Pages that were read last, the most that are kept. */
const MOST = 40;

self.addEventListener('install', (event) => {
  event.waitUntil(caches.open(SHELL).then((cache) => cache.addAll(FILES)));
});

self.addEventListener('activate', (event) => {
  const tidy = async () => {
    for (const name of await caches.keys()) if (name !== SHELL && name !== READ) await caches.delete(name);
    await self.clients.claim();
  };
  event.waitUntil(tidy());
});

/** A newer edition takes over once no page of a bake is open. */
self.addEventListener('message', (event) => {
  if (event.data !== 'take-over') return;
  const takeOver = async () => {
    const pages = await self.clients.matchAll({ includeUncontrolled: true });
    if (!pages.some((page) => /^\/bakes\/\d+/.test(new URL(page.url).pathname))) await self.skipWaiting();
  };
  event.waitUntil(takeOver());
});

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (origin !== self.location.origin) return;
  if (request.method === 'GET' && pathname.startsWith('/static/')) event.respondWith(file(request));
  else if (request.mode === 'navigate' && request.method === 'GET') event.respondWith(page(event));
  else if (request.mode === 'navigate' && request.method === 'POST') event.respondWith(sent(request));
});

async function file(request) {
  return (await caches.match(request)) ?? fetch(request);
}

/** A page: from the kitchen where it answers, else as it was read last. */
async function page(event) {
  const { request } = event;
  try {
    const response = await fetch(request);
    const type = response.headers.get('Content-Type') ?? '';
    if (response.ok && !response.redirected && type.startsWith('text/html')) {
      event.waitUntil(keep(request.url, response.clone()));
    }
    return response;
  } catch {
    const kept = await caches.match(request.url, { cacheName: READ });
    if (!kept) return caches.match('/offline');
    const html = (await kept.text()).replace('<body ', `<body data-read-at="${kept.headers.get('X-Read-At')}" `);
    return new Response(html, { headers: kept.headers });
  }
}

async function keep(url, response) {
  const cache = await caches.open(READ);
  const headers = new Headers(response.headers);
  // It is unpacked already.
  headers.delete('Content-Encoding');
  headers.set('X-Read-At', new Date().toISOString());
  await cache.put(url, new Response(await response.blob(), { headers }));
  const all = await cache.keys();
  for (const old of all.slice(0, Math.max(all.length - MOST, 0))) await cache.delete(old);
}

const escaped = (text) => text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]);

/** What was sent and did not arrive stays, to be sent again. */
async function sent(request) {
  const again = request.clone();
  try {
    return await fetch(request);
  } catch {
    const form = await again.formData();
    const kept = [...form].filter(([, value]) => typeof value === 'string');
    const fields = kept.map(([name, value]) => `<input type="hidden" name="${escaped(name)}" value="${escaped(value)}">`);
    const offline = await (await caches.match('/offline')).text();
    const { pathname } = new URL(request.url);
    const resend = `<form method="post" action="${escaped(pathname)}"><p>What you sent is kept here. Leave this page open, and send it again once the kitchen answers.</p>${fields.join('')}<button class="act">Send again</button></form>`;
    const html = offline.replace('<div data-kept></div>', resend);
    return new Response(html, { status: 503, headers: { 'Content-Type': 'text/html; charset=utf-8' } });
  }
}
