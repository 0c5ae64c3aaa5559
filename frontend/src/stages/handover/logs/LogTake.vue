<script setup lang="ts">
/** A log taken in: the file chosen, its columns mapped once for its kind, its first rows seen as they are read. */
import { onBeforeUnmount, ref, shallowRef } from 'vue'
import Button from '../../../ui/prime/button'
import { answered, client, whyOf } from '../../../api/client'
import { told } from '../../../api/stream'
import type { LogMapping, LookedAt, TriedLog } from '../../../api/types'
import { useJob } from '../../../job/store'
import { asking } from '../../../ui/asking'
import { once } from '../../../ui/once'
import WorkProgress from '../../../ui/WorkProgress.vue'
import LogColumns from './LogColumns.vue'
import LogFirstRows from './LogFirstRows.vue'
import { mappingOf, sampleOf, sent } from './deviceLog'

const emit = defineEmits<{ taken: [number] }>()
const job = useJob()
const file = shallowRef<File | null>(null)
const sample = shallowRef<Blob | null>(null)
const looked = shallowRef<LookedAt | null>(null)
const mapping = ref<LogMapping | null>(null)
const tried = shallowRef<TriedLog | null>(null)
const kind = ref<number | null>(null)
const trouble = ref('')
const done = ref(1)
let stop: AbortController | null = null
onBeforeUnmount(() => stop?.abort())

async function trying(work: () => Promise<void>): Promise<void> {
  trouble.value = ''
  try {
    await work()
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; the file stays chosen. Try again.')
  }
}
const asked = asking(() => file.value)
async function chosen(event: Event): Promise<void> {
  const picked = (event.target as HTMLInputElement).files?.[0]
  if (!picked) return
  file.value = picked
  looked.value = mapping.value = tried.value = kind.value = null
  const counts = asked()
  await trying(async () => {
    const part = await sampleOf(picked)
    const found = await sent<LookedAt>('/api/log-kinds/look', part)
    if (!counts()) return // another file was chosen meanwhile
    sample.value = part
    looked.value = found
    mapping.value = mappingOf(found)
    if (found.kind !== null) await tryKind(found.kind)
  })
}
function remap(next: LogMapping): void {
  mapping.value = next
  tried.value = null
  kind.value = null
}
const mapped = asking(() => mapping.value)
async function tryKind(number: number): Promise<void> {
  if (!sample.value) return
  const counts = mapped()
  const found = await sent<TriedLog>(`/api/log-kinds/${number}/try`, sample.value)
  if (!counts()) return
  tried.value = found
  kind.value = number
}
const [look, looking] = once(() =>
  trying(async () => {
    const wanted = mapping.value
    if (!wanted) return
    const kept = await answered(client.POST('/api/log-kinds', { body: wanted }))
    if (mapping.value === wanted) await tryKind(kept.kind)
  }),
)
async function take(): Promise<void> {
  if (!file.value || kind.value === null) return
  const mine = new AbortController()
  stop = mine
  done.value = 0
  const path = `/api/jobs/${job.id}/logs/take?kind=${kind.value}&name=${encodeURIComponent(file.value.name.slice(0, 120))}`
  await trying(async () => {
    try {
      for await (const line of told<{ done: number; log: number | null; fault: string }>(
        path,
        file.value,
        mine.signal,
      )) {
        done.value = line.done
        if (line.fault) trouble.value = line.fault
        if (line.log !== null) emit('taken', line.log)
      }
    } catch (error) {
      if (!mine.signal.aborted) throw error
    }
  })
  done.value = 1
}
</script>

<template>
  <section class="panel" aria-label="Import a log">
    <div class="bench-head">
      <h2>Import a log</h2>
      <span v-if="looked?.kind" class="aside good">✓ a kind that was mapped before</span>
    </div>
    <p class="muted">
      A table of text (CSV) from a monitor or a charger, with the names of its columns. It stays on this server.
    </p>
    <label class="file">
      <span class="hidden-label">File of the log</span>
      <input type="file" accept=".csv,.txt,.tsv,text/csv,text/plain" data-log-file @change="chosen" />
    </label>
    <p v-if="trouble && !mapping" class="stop" role="alert">■ {{ trouble }}</p>
    <template v-if="looked && mapping">
      <p v-for="doubt in looked.sniffed.doubts" :key="doubt" class="caution">▲ {{ doubt }}</p>
      <LogColumns :mapping="mapping" :looked="looked" @change="remap" />
      <LogFirstRows v-if="tried" :tried="tried" />
      <p v-if="trouble" class="stop" role="alert" data-log-trouble>■ {{ trouble }}</p>
      <div class="go">
        <Button
          v-if="kind === null"
          label="See its first rows"
          size="small"
          :loading="looking"
          data-log-try
          @click="look"
        />
        <Button v-else-if="done >= 1" label="Take it in" size="small" data-log-take @click="take" />
        <WorkProgress v-if="done < 1" :done="done" what="Log" @stop="stop?.abort()" />
      </div>
    </template>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  align-content: start;
  font-size: var(--text);
}
.file input {
  font: inherit;
  max-width: 100%;
  min-height: 44px;
}
.go {
  display: flex;
  gap: 10px;
  align-items: center;
}
</style>
