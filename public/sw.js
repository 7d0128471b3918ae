/** Shows a page that says so while the desk's computer does not answer; everything else goes to it as ever. */
const NAME = 'heron-1'
const AWAY = '/__base__/away.html'

self.addEventListener('install', (event) => {
  event.waitUntil(
    caches
      .open(NAME)
      .then((cache) => cache.addAll([AWAY, '/__base__/away.js', '/__base__/icon-192.png']))
      .then(() => self.skipWaiting()),
  )
})

self.addEventListener('activate', (event) => {
  const old = caches
    .keys()
    .then((names) => Promise.all(names.filter((n) => n !== NAME).map((n) => caches.delete(n))))
  event.waitUntil(old.then(() => self.clients.claim()))
})

self.addEventListener('fetch', (event) => {
  const { pathname } = new URL(event.request.url)
  if (event.request.mode === 'navigate')
    event.respondWith(fetch(event.request).catch(() => caches.match(AWAY)))
  else if (pathname === '/__base__/away.js' || pathname === '/__base__/icon-192.png')
    event.respondWith(fetch(event.request).catch(() => caches.match(pathname)))
})
