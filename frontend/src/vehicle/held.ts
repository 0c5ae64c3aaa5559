/**
 * Answers held on this device for jobs that somebody chose to keep here. The server is always asked first; where it
 * cannot be reached, a question gets the answer that is held for it. What changes something is never answered from here:
 * the page keeps it and hands it in later.
 */
const KEPT = 'olvask-kept'
export const AS_OF = 'x-olvask-as-of' // an answer that was kept, and when
const CHANGES =
  /^\/api\/((jobs|shelf|people|me|sign-in|sign-out|join|devices|log-kinds|instruments|customers)(\/|$)|house$)/
const NEVER = /^\/api\/(me|people|deeds|customers)(\/|$)/

/** This device can hold answers: over TLS, or on this machine itself. */
export const canHold = typeof caches !== 'undefined'
/** Whether any are held, once that is known; a device that holds none pays nothing for it. */
let holding: boolean | undefined = canHold ? undefined : false
const known = canHold
  ? caches.has(KEPT).then(
      (has) => (holding ??= has),
      () => false,
    )
  : Promise.resolve(false)

/** Ask the server; out of its reach, what is held. With `keep` the answer is held from now on. */
export async function heldFetch(request: Request, keep = false): Promise<Response> {
  if (!canHold || (holding === false && !keep) || !asks(request)) return fetch(request)
  const read = request.method === 'GET'
  // The first questions do not wait until that is known; they are put under their address alone.
  const name = read || keep || holding ? nameOf(request.clone()) : undefined
  let fresh: Response
  try {
    fresh = await fetch(request)
  } catch (error) {
    const held = name && (await caches.match(await name, { cacheName: KEPT }))
    if (held) return held
    throw error
  }
  if (name && fresh.ok && keep) await put(await name, fresh.clone())
  else if (name && fresh.ok && read) renew(await name, fresh.clone()).catch(() => undefined) // no room: the old one stays
  return fresh
}

/** Nothing of any job stays on this device. */
export async function forget(): Promise<void> {
  holding = false
  if (canHold) await caches.delete(KEPT)
}

/** Whether a request asks and changes nothing: questions of a design are posted, what is kept is put under its address. */
function asks(request: Request): boolean {
  const path = new URL(request.url).pathname
  return request.method === 'GET' ? !NEVER.test(path) : request.method === 'POST' && !CHANGES.test(path)
}

/** A question's name: its address, and where it has a body a hash of that. */
async function nameOf(request: Request): Promise<string> {
  if (request.method === 'GET') return request.url
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', await request.arrayBuffer()))
  return `${request.url}?body=${[...hash].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`
}

async function renew(name: string, fresh: Response): Promise<void> {
  if ((holding ?? (await known)) && (await caches.match(name, { cacheName: KEPT })) !== undefined)
    await put(name, fresh)
}
async function put(name: string, fresh: Response): Promise<void> {
  holding = true
  const headers = new Headers(fresh.headers)
  headers.set(AS_OF, new Date().toISOString())
  const cache = await caches.open(KEPT)
  await cache.put(name, new Response(await fresh.blob(), { status: fresh.status, headers }))
}
