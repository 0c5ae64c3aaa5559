<script setup lang="ts">
/** Signing off: what stands in the way, what is accepted one by one, the name; after it the revision stays as it is. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useSessionStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import Button from '../../ui/prime/button'
import InputText from '../../ui/prime/inputtext'
import { answered, client, whyOf } from '../../api/client'
import { fieldOf } from '../../ui/fields'
import { clock, date, said } from '../../ui/locale'
import { HOW_FAR } from '../../job/howFar'
import { useJob } from '../../job/store'
import { useHouse } from '../../house/house'
import { counted } from '../../ui/counted'

const job = useJob()
const queries = useQueryClient()
const key = computed(() => ['signing', job.id, job.version])
const { data } = useQuery({
  queryKey: key,
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/signing', { params: { path: { job_id: job.id } } })),
  enabled: computed(() => job.id > 0),
  gcTime: 0,
})
const by = useSessionStorage('olvask.signed.by', '')
const meter = useSessionStorage('olvask.signed.meter', '')
const house = useHouse()
watch(house, (found) => (meter.value ||= found?.meter ?? ''), { immediate: true })
const accepted = ref<string[]>([])
const trouble = ref('')
const busy = ref(false)
const last = computed(() => data.value?.signatures.find((item) => item.version === data.value?.version))
const since = computed(() => data.value?.since ?? [])
const signed = computed(() => (since.value.length ? undefined : last.value))
const waiting = computed(() => (data.value?.wanted ?? []).filter((item) => !accepted.value.includes(item.id)))
const ready = computed(() => data.value?.stops === 0 && waiting.value.length === 0 && by.value.trim() !== '')
async function sign(): Promise<void> {
  if (!data.value) return
  busy.value = true
  trouble.value = ''
  try {
    await answered(
      client.POST('/api/jobs/{job_id}/sign', {
        params: { path: { job_id: job.id } },
        body: { version: data.value.version, by: by.value, meter: meter.value, accepted: accepted.value },
      }),
    )
    accepted.value = []
    void queries.invalidateQueries({ queryKey: [HOW_FAR] })
    await queries.invalidateQueries({ queryKey: ['signing'] })
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; nothing was signed.')
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section v-if="data" class="panel" aria-label="Sign-off" data-signing>
    <div class="bench-head">
      <h2>Sign-off</h2>
      <span class="aside" :class="signed ? 'good' : 'muted'">{{
        signed
          ? `✓ version ${signed.version} is signed`
          : last
            ? `version ${data.version}, to be signed again`
            : `version ${data.version}, a draft`
      }}</span>
    </div>
    <template v-if="!signed">
      <p v-if="last" class="caution" data-since>
        ▲ Since no. {{ last.number }} was signed: {{ said(since.join('; ')) }}. Prove it and sign it off again.
      </p>
      <p v-if="data.unfinished.length" class="stop" data-unfinished>
        ■ Not finished: {{ data.unfinished.join(', ') }}. There is nothing to sign off yet.
      </p>
      <p v-else-if="data.stops" class="stop">
        ■ {{ counted(data.stops, 'stop is', 'stops are') }} open: mend it first, a job with a stop is not signed off.
      </p>
      <template v-else>
        <p v-if="data.wanted.length" class="muted">Accept one by one what is not as it might be:</p>
        <ul>
          <li v-for="item in data.wanted" :key="item.id">
            <label
              ><input v-model="accepted" type="checkbox" :value="item.id" :data-accept="item.id" />
              <span
                ><b>{{ said(item.title) }}</b> <span class="muted">{{ said(item.text) }}</span></span
              ></label
            >
          </li>
        </ul>
        <div class="who">
          <label for="signed-by">{{ fieldOf('signing.by').label }}</label>
          <InputText id="signed-by" v-model="by" size="small" autocomplete="name" />
          <label for="signed-meter">{{ fieldOf('signing.meter').label }}</label>
          <InputText id="signed-meter" v-model="meter" size="small" autocomplete="off" />
        </div>
        <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
        <Button
          :label="
            waiting.length ? `${waiting.length} to accept` : `Sign version ${data.version} off${last ? ' again' : ''}`
          "
          size="small"
          :disabled="!ready || busy"
          data-sign
          @click="sign"
        />
      </template>
    </template>
    <p v-for="item in data.signatures" :key="item.number" class="signature" data-signature>
      <b>No. {{ item.number }}, version {{ item.version }}</b> by {{ item.by }}, {{ date(new Date(item.at)) }}
      {{ clock(new Date(item.at)) }}, {{ item.proven ? 'every test done and right' : 'not every test done and right'
      }}{{ item.accepted.length ? `, ${item.accepted.length} accepted` : '' }} ·
      <a :href="`/api/jobs/${job.id}/signatures/${item.number}/report.pdf`" target="_blank" rel="noopener"
        >its report</a
      >
      <span class="muted sum">checksum {{ item.checksum.slice(0, 16) }}…</span>
    </p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
}
li label {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr);
  gap: 6px;
  padding: 4px 0;
  font-size: var(--text);
  line-height: 1.3;
  border-bottom: 1px solid var(--hair);
  min-height: 28px;
}
[data-since] {
  margin-bottom: 8px;
}
.who {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 4px 10px;
  align-items: center;
  margin-bottom: 8px;
  font-size: var(--text);
}
.signature {
  font-size: var(--text);
  margin-top: 10px;
  line-height: 1.35;
}
.sum {
  display: block;
}
@media (max-width: 700px) {
  li label {
    min-height: 44px;
    align-items: center;
  }
}
</style>
