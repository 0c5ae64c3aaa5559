/** Ticks of the sheet: what was keyed and read back, by whom and when; kept with the job. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { notedAt } from '../../api/clock'
import type { SheetLine } from '../../api/types'
import { useJob } from '../../job/store'

export interface Ticked {
  line: string
  value: string
  keyed: boolean
  seen: string
  by: string
  at: string
}

/** Whoever keys it in, as they sign; remembered on this device. */
export const initials = useLocalStorage('olvask.initials', '')

export function useKeyed() {
  const job = useJob()
  const all = computed(() => (job.design?.keyed ?? []) as Ticked[])
  const of = (key: string) => all.value.find((item) => item.line === key)
  function put(line: SheetLine, change: Partial<Ticked>): void {
    const was = of(line.key) ?? { line: line.key, value: '', keyed: false, seen: '', by: '', at: '' }
    const now = { ...was, ...change, by: initials.value.trim(), at: notedAt() }
    const others = all.value.filter((item) => item.line !== line.key)
    const kept = now.keyed || now.seen !== '' ? [...others, now] : others
    job.change([{ path: 'keyed', value: kept }])
  }
  /** Tick a line keyed, or take the tick back; what was keyed is the value the sheet says now. */
  function key(line: SheetLine): void {
    const on = of(line.key)?.keyed !== true
    put(line, on ? { keyed: true, value: line.value } : { keyed: false, value: '' })
  }
  /** Note what the unit shows; nothing takes it back. */
  function read(line: SheetLine, seen: string): void {
    put(line, { seen })
  }
  return { all, of, key, read }
}

const NUMBER = /^\s*([-+]?\d+(?:[.,]\d+)?)\s*(.*?)\s*$/
/** Whether a value read back is the one on the sheet; the core judges by the same rule. */
export function sameValue(seen: string, wanted: string): boolean {
  const [a, b] = [NUMBER.exec(seen), NUMBER.exec(wanted)]
  if (a === null || b === null) return seen.trim().toLowerCase() === wanted.trim().toLowerCase()
  const unit = (text: string | undefined) => (text ?? '').toLowerCase()
  const number = (text: string | undefined) => Number((text ?? '').replace(',', '.'))
  return (unit(a[2]) === '' || unit(a[2]) === unit(b[2])) && Math.abs(number(a[1]) - number(b[1])) < 1e-6
}
