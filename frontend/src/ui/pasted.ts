/**
 * What is pasted comes without signs that nobody sees. Telephones and chat programs put them round a number; a figure with
 * one in it cannot be read, and those that turn the writing round are refused by the server.
 */
// Controls but line ends and tabs, zero-width spaces, bidirectional controls. Joiners stay: some scripts are written with them.
const UNSEEN = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u200b\u202a-\u202e\u2060\u2066-\u2069\ufeff]/g
const TYPED = new Set(['text', 'search', 'tel', 'url']) // a password is what it is

/** A text without signs that nobody sees. */
export const seen = (text: string): string => text.replace(UNSEEN, '')

/** From now on what is pasted into any entry of a page comes without them. */
export function cleanPastes(page: Document): void {
  page.addEventListener('paste', (event) => {
    const entry = event.target
    const text = event.clipboardData?.getData('text/plain') ?? ''
    const clean = seen(text)
    if (clean === text || !takes(entry)) return
    event.preventDefault()
    const room = entry.maxLength < 0 ? clean.length : entry.maxLength - entry.value.length + selected(entry)
    entry.setRangeText(clean.slice(0, Math.max(0, room)), entry.selectionStart ?? 0, entry.selectionEnd ?? 0, 'end')
    entry.dispatchEvent(new InputEvent('input', { bubbles: true, inputType: 'insertFromPaste' }))
  })
}

type Entry = HTMLInputElement | HTMLTextAreaElement

function takes(at: EventTarget | null): at is Entry {
  const typed = at instanceof HTMLTextAreaElement || (at instanceof HTMLInputElement && TYPED.has(at.type))
  return typed && !at.readOnly && !at.disabled
}

const selected = (entry: Entry): number => (entry.selectionEnd ?? 0) - (entry.selectionStart ?? 0)
