/** A countdown that outlives a reload, beeps its last seconds and says when it is over. */
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'

export function useCountdown(key: () => string, seconds: () => number) {
  const began = useLocalStorage<Record<string, number>>('olvask.countdowns', {})
  const now = ref(Date.now())
  const start = computed(() => began.value[key()])
  const left = computed(() => {
    if (start.value === undefined) return seconds()
    return Math.max(0, Math.ceil(seconds() - (now.value - start.value) / 1000))
  })
  const running = computed(() => start.value !== undefined && left.value > 0)
  const over = computed(() => start.value !== undefined && left.value === 0)
  let sound: AudioContext | null = null
  let heard = -1
  useIntervalFn(() => {
    now.value = Date.now()
    if (start.value === undefined || sound === null || left.value === heard) return
    if (left.value <= 3 && heard !== -1) beep(sound, left.value === 0)
    heard = left.value
  }, 200)
  function begin(): void {
    sound = typeof AudioContext === 'undefined' ? null : new AudioContext()
    heard = seconds()
    now.value = Date.now()
    began.value = { ...began.value, [key()]: Date.now() }
  }
  function stop(): void {
    began.value = Object.fromEntries(Object.entries(began.value).filter(([name]) => name !== key()))
    heard = -1
  }
  return { left, running, over, begin, stop }
}

function beep(sound: AudioContext, last: boolean): void {
  const tone = sound.createOscillator()
  const level = sound.createGain()
  tone.frequency.value = last ? 1320 : 880
  level.gain.value = 0.2
  tone.connect(level).connect(sound.destination)
  tone.start()
  tone.stop(sound.currentTime + (last ? 0.6 : 0.12))
}

/** Minutes and seconds. */
export function clockOf(seconds: number): string {
  return `${String(Math.floor(seconds / 60))}:${String(seconds % 60).padStart(2, '0')}`
}
