/**
 * What this device holds so that Olvask opens without signal: its own program, and the answers to the questions of jobs
 * that somebody chose to keep here. Requests that change something are never answered from here: the page keeps them
 * and hands them in later.
 */
const PROGRAM = 'olvask-program'
const KEPT = 'olvask-kept'
const KEEP = 'x-olvask-keep' // a request whose answer is to be kept
const AS_OF = 'x-olvask-as-of' // an answer that was kept, and when
const PATIENCE_MS = 6000
const CHANGES =
  /^\/api\/((jobs|shelf|people|me|sign-in|sign-out|join|devices|log-kinds|instruments|customers)(\/|$)|house$)/

self.addEventListener('install', (event) => {
  event.waitUntil(program().then(() => self.skipWaiting()))
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
  if (request.mode === 'navigate' && !url.pathname.startsWith('/api/')) event.respondWith(page(request, event))
  else if (url.pathname.startsWith('/assets/') || url.pathname === '/mark.svg') event.respondWith(file(request))
  else if (url.pathname.startsWith('/api/') && asks(request, url)) event.respondWith(answer(request, event))
})

/** Whether a request asks and changes nothing: questions of a design are posted, what is kept is put under its address. */
function asks(request, url) {
  if (request.method === 'GET') return !/^\/api\/(me|people|deeds|customers)(\/|$)/.test(url.pathname)
  if (request.method !== 'POST') return false
  return !CHANGES.test(url.pathname)
}

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

/** The server's answer; where it cannot be had, the one that was kept for this very question. */
async function answer(request, event) {
  const keep = request.headers.has(KEEP)
  const key = await nameOf(request.clone())
  try {
    const fresh = await fetch(request)
    if (fresh.ok && (keep || (request.method === 'GET' && (await holds(key))))) event.waitUntil(put(key, fresh.clone()))
    return fresh
  } catch (error) {
    const held = await caches.match(key, { cacheName: KEPT })
    if (held) return held
    throw error
  }
}

/** A question's name: its address, and where it has a body a hash of that. */
async function nameOf(request) {
  if (request.method === 'GET') return request.url
  const body = await request.arrayBuffer()
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', body))
  return `${request.url}?body=${[...hash].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`
}
const holds = async (key) => (await caches.match(key, { cacheName: KEPT })) !== undefined

async function put(key, fresh) {
  const headers = new Headers(fresh.headers)
  headers.set(AS_OF, new Date().toISOString())
  const cache = await caches.open(KEPT)
  await cache.put(key, new Response(await fresh.blob(), { status: fresh.status, headers }))
}

function within(promise) {
  return Promise.race([promise, new Promise((_, refuse) => setTimeout(() => refuse(new Error('slow')), PATIENCE_MS))])
}
