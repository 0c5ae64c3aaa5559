/** Who is signed in on this page; nobody is asked where the server is this machine's own. */
import { computed, shallowRef, watch } from 'vue'
import type { components } from './schema.gen'

export type Person = components['schemas']['PersonOut']
const said = typeof document === 'undefined' ? null : document.getElementById('app')
/** Whether this server asks who it is. */
export const asks = said?.dataset['asks'] === 'yes'
/** Who: `undefined` while it is asked, `null` for nobody. */
export const me = shallowRef<Person | null | undefined>(asks ? undefined : null)
/** Whether the screens wait for a sign-in. */
export const locked = computed(() => asks && me.value === null)
/** A request was refused for want of a session. */
export function signedOut(): void {
  if (asks) me.value = null
}
/** Whether what owners alone may do is open here. */
export const owns = computed(() => !asks || me.value?.role === 'owner')

const LAST = 'olvask.me'
watch(me, (who) => {
  try {
    if (who) localStorage.setItem(LAST, JSON.stringify(who))
    else if (who === null) localStorage.removeItem(LAST)
  } catch {
    // the browser keeps nothing: without signal it asks to sign in
  }
})
/** Who was signed in here last, while the server is out of reach. */
export function lastHere(): Person | null {
  try {
    return JSON.parse(localStorage.getItem(LAST) ?? 'null') as Person | null
  } catch {
    return null
  }
}
