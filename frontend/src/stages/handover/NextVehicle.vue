<script setup lang="ts">
/** The same work for the next vehicle: a new job, in which what was measured here waits to be measured again. */
import { computed, ref, useId } from 'vue'
import { useRouter } from 'vue-router'
import Button from '../../ui/prime/button'
import InputText from '../../ui/prime/inputtext'
import { answered, client, whyOf } from '../../api/client'
import { fieldOf } from '../../ui/fields'
import { useJob } from '../../job/store'
import { useHalfTyped } from '../../ui/halfTyped'

const job = useJob()
const router = useRouter()
const id = useId()
const title = useHalfTyped(() => `next.title.${String(job.id)}`, '')
const code = useHalfTyped(() => `next.code.${String(job.id)}`, '')
const trouble = ref('')
const busy = ref(false)
const ready = computed(() => title.value.trim() !== '' && !busy.value)
async function begin(): Promise<void> {
  busy.value = true
  trouble.value = ''
  try {
    const made = await answered(
      client.POST('/api/jobs/{job_id}/next', {
        params: { path: { job_id: job.id } },
        body: { title: title.value, code: code.value, customer: job.heading.customer },
      }),
    )
    title.value = code.value = ''
    await router.push(`/job/${made.id}/survey`)
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; nothing was begun.')
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="panel" aria-label="The next vehicle">
    <div class="bench-head">
      <h2>The next vehicle</h2>
      <span class="aside">the same work again</span>
    </div>
    <p class="muted">
      A new job with this design. What was measured on this vehicle counts as copied until it is measured again.
    </p>
    <div class="who">
      <label :for="`${id}-title`">{{ fieldOf('heading.title').label }}</label>
      <InputText :id="`${id}-title`" v-model="title" size="small" autocomplete="off" data-next-title />
      <label :for="`${id}-code`">{{ fieldOf('heading.code').label }}</label>
      <InputText :id="`${id}-code`" v-model="code" size="small" autocomplete="off" data-next-code />
    </div>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    <Button
      label="Begin it"
      size="small"
      severity="secondary"
      variant="outlined"
      :disabled="!ready"
      data-next-begin
      @click="begin"
    />
  </section>
</template>

<style scoped>
.who {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 4px 10px;
  align-items: center;
  margin: 6px 0 8px;
  font-size: var(--text);
}
</style>
