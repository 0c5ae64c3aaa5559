/** Who is signed in on this page; nobody is asked where the server is this machine's own. */
import { computed, shallowRef } from 'vue'
import type { components } from './schema.gen'

export type Person = components['schemas']['PersonOut']
const said = typeof document === 'undefined' ? null : document.querySelector<HTMLMetaElement>('meta[name="asks"]')
/** Whether this server asks who it is. */
export const asks = said?.content === 'yes'
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
