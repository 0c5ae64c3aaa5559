/**
 * What this device holds so that Olvask opens without signal: its own program, and papers of jobs that somebody chose to
 * keep here. What a page asks does not come by here, which would cost each keypress some milliseconds: the page itself
 * holds the answers (`vehicle/held.ts`).
 */
const PROGRAM = 'olvask-program'
const KEPT = 'olvask-kept'
const PATIENCE_MS = 6000
// Straight to the server, where the browser can be told so once and for all.
const STRAIGHT = {
  condition: {
    or: ['cors', 'no-cors', 'same-origin'].map((requestMode) => ({
      requestMode,
      urlPattern: { pathname: '/api/*' },
    })),
  },
  source: 'network',
}

self.addEventListener('install', (event) => {
  const told = event.addRoutes?.(STRAIGHT)?.catch(() => undefined)
  event.waitUntil(Promise.all([program(), told]).then(() => self.skipWaiting()))
})
self.addEventListener('activate', (event) => {
  event.waitUntil(self.clients.claim())
})

/** Every file of the program, as the build lists them. */
async function program() {
  const cache = await caches.open(PROGRAM)
  const page = await fetch('/', { cache: 'no-store' })
  if (page.ok) await cache.put('/', page)
  const list = await fetch('/files.json', { cache: 'no-store' })
  if (!list.ok) return
  const files = await list.json()
  const held = new Set((await cache.keys()).map((request) => new URL(request.url).pathname))
  await Promise.all(files.filter((file) => !held.has(file)).map((file) => cache.add(file)))
  const wanted = new Set([...files, '/'])
  for (const old of held) if (!wanted.has(old)) await cache.delete(old)
}

self.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (url.origin !== self.location.origin) return
  if (request.mode === 'navigate')
    event.respondWith(url.pathname.startsWith('/api/') ? paper(request) : page(request, event))
  else if (url.pathname.startsWith('/assets/') || url.pathname === '/mark.svg') event.respondWith(file(request))
})

/** The page as it comes; kept once it is whole, while the browser reads it already. One that breaks off is not kept. */
async function page(request, event) {
  try {
    const fresh = await within(fetch(request))
    if (fresh.ok && fresh.headers.get('content-type')?.includes('text/html')) {
      const copy = fresh.clone()
      const kept = caches.open(PROGRAM).then((cache) => cache.put('/', copy))
      event.waitUntil(kept.catch(() => undefined))
    }
    return fresh
  } catch {
    return (await caches.match('/', { cacheName: PROGRAM })) ?? Response.error()
  }
}

async function file(request) {
  const held = await caches.match(request, { cacheName: PROGRAM })
  if (held) return held
  const fresh = await fetch(request)
  if (fresh.ok) await (await caches.open(PROGRAM)).put(request, fresh.clone())
  return fresh
}

/** A paper opened by its address: the server's, or else the one that is held here. */
async function paper(request) {
  try {
    return await fetch(request)
  } catch {
    return (await caches.match(request.url, { cacheName: KEPT })) ?? Response.error()
  }
}

function within(promise) {
  return Promise.race([promise, new Promise((_, refuse) => setTimeout(() => refuse(new Error('slow')), PATIENCE_MS))])
}
