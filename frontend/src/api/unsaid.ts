/** What failed and no screen speaks of itself: answers that are missing, and what was pressed and not done. */
import type { QueryClient, Query } from '@tanstack/vue-query'
import { shallowRef } from 'vue'
import { Refused, Unreachable, whyOf } from './client'
import { locked } from './signedIn'

declare module '@tanstack/vue-query' {
  interface Register {
    /** `said`: the screen that asks says itself why no answer came. */
    queryMeta: { said?: boolean }
  }
}

const AGAIN_MS = 4000
const AWAY = 'The server does not answer; trying again.'
const PART =
  'A part of the program could not be fetched: no signal, or it was renewed. Reload the page once the server answers; what you typed is kept in this browser.'
const WRONG = 'Something on this page went wrong. Reload it; what you typed is kept in this browser.'

/** Why an answer is missing of which no screen says so; empty where none is. */
export const missing = shallowRef('')
/** Why what was pressed was not done; empty where all was. */
export const undone = shallowRef('')

/** When to ask again what has failed [ms]: out of reach and out of order now and then, what was refused not. */
export function askedAgain(query: { state: { error: Error | null } }): number | false {
  const { error } = query.state
  const refused = error instanceof Refused && error.problem.status < 500
  return error === null || refused ? false : AGAIN_MS
}

const unsaid = (query: Query): boolean => query.state.status === 'error' && query.meta?.said !== true

/** Watch every question that a screen asks. */
export function watchAnswers(queries: QueryClient): void {
  const cache = queries.getQueryCache()
  cache.subscribe(() => {
    const failed = locked.value ? undefined : cache.findAll({ type: 'active', predicate: unsaid })[0]
    missing.value = failed === undefined ? '' : whyOf(failed.state.error, AWAY)
  })
}

/** Ask again at once, for somebody who stands there and waits. */
export async function askAgain(queries: QueryClient): Promise<void> {
  await queries.refetchQueries({ type: 'active', predicate: unsaid })
}

/** Say that what was done came to nothing; true where the server or the signal is why, and nothing of ours is wrong. */
export function sayUndone(error: unknown): boolean {
  if (error instanceof DOMException && error.name === 'AbortError') return true // ended on purpose
  const theirs = error instanceof Refused || error instanceof Unreachable
  if (locked.value) return theirs
  if (theirs) undone.value = whyOf(error, 'The server does not answer; nothing was changed.')
  else undone.value ||= WRONG // a better reason may stand there already
  return theirs
}

/** Whatever nobody catches is said. */
export function watchPage(page: Window): void {
  page.addEventListener('unhandledrejection', (event) => {
    if (sayUndone(event.reason)) event.preventDefault()
  })
  page.addEventListener('vite:preloadError', (event) => {
    undone.value = PART
    event.preventDefault()
  })
}
