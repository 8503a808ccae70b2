// Presses that the kitchen has not confirmed yet, in this browser's own file: a page that is closed, or a phone whose battery
// dies, does not lose them.

const open = () =>
  new Promise((resolve, reject) => {
    const asked = indexedDB.open('cerealis-bench', 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore('presses', { autoIncrement: true });
    asked.onsuccess = () => resolve(asked.result);
    asked.onerror = () => reject(asked.error);
  });

const done = (request) =>
  new Promise((resolve, reject) => {
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => reject(request.error);
  });

/** Where there is no such file, this page alone remembers them. */
let here = [];

async function all(mode, work) {
  const file = await open();
  try {
    return await work(file.transaction('presses', mode).objectStore('presses'));
  } finally {
    file.close();
  }
}

/** Keeps a press until it is confirmed. */
export async function keep(press) {
  await all('readwrite', (store) => done(store.add(press))).catch(() => here.push(press));
}

/** What waits of a bake, in the order in which it was pressed. */
export async function kept(bake) {
  const filed = await all('readonly', (store) => done(store.getAll())).catch(() => []);
  return [...filed, ...here].filter((press) => press.bake === bake);
}

/** Forgets a press that is confirmed, or that never will be. */
export async function forget(key) {
  here = here.filter((press) => press.key !== key);
  await all('readwrite', async (store) => {
    const keys = await done(store.getAllKeys());
    const presses = await done(store.getAll());
    const at = presses.findIndex((press) => press.key === key);
    if (at >= 0) await done(store.delete(keys[at]));
  }).catch(() => {});
}
