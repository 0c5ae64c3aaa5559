<script setup lang="ts">
/** Begin a job: by a vehicle's name, or from a job file. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { useHalfTyped } from '../ui/halfTyped'
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answered, client, posted, Refused } from '../api/client'
import type { EntryError, Job } from '../api/types'
import { useHouse } from '../house/house'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'

const FromTemplate = defineAsyncComponent(() => import('./FromTemplate.vue'))
/** `bare`: there is no job yet; `standing`: what there is stands on the screen. */
const props = defineProps<{ bare: boolean; standing: boolean }>()
const router = useRouter()
const queries = useQueryClient()
const title = useHalfTyped('new.title', '')
const code = useHalfTyped('new.code', '')
const template = ref<number | null>(null)
/** On a phone the form waits behind its name, so that the jobs are in reach; not where it is begun, or there are none. */
const unfolded = ref(title.value !== '' || code.value !== '')
const folded = computed(() => !unfolded.value && !props.bare)
async function unfold(): Promise<void> {
  unfolded.value = true
  await nextTick()
  document.getElementById('new-title')?.focus()
}
const house = useHouse()
watch(house, (found) => (template.value ??= found?.begin_from ?? null), { immediate: true })
const named = () => ({ title: title.value.trim(), code: code.value.trim(), customer: '' })
const picker = ref<HTMLInputElement | null>(null)
const refused = ref<{ title: string; errors: EntryError[] } | null>(null)

async function enter(job: Job, stage: string): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['yard'] })
  await router.push(`/job/${job.id}/${stage}`)
}
function refuse(reason: unknown): void {
  refused.value =
    reason instanceof Refused
      ? {
          title: reason.problem.title,
          errors: reason.problem.errors.length
            ? reason.problem.errors
            : [{ path: '', field: '', message: reason.problem.detail }],
        }
      : {
          title: 'The server does not answer',
          errors: [{ path: '', field: '', message: 'Nothing was stored; what you typed is still here. Try again.' }],
        }
}
const begin = useMutation({
  mutationFn: () =>
    template.value === null
      ? answered(client.POST('/api/jobs', { body: { ...named(), design: null } }))
      : answered(
          client.POST('/api/jobs/{job_id}/next', { params: { path: { job_id: template.value } }, body: named() }),
        ),
  onSuccess: (job: Job) => {
    title.value = code.value = ''
    return enter(job, 'survey')
  },
  onError: refuse,
})
const send = async (file: File) => (await (await posted('/api/jobs/import', file, 'application/json')).json()) as Job
const take = useMutation({ mutationFn: send, onSuccess: (job: Job) => enter(job, 'survey'), onError: refuse })
function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  refused.value = null
  if (file) take.mutate(file)
  input.value = ''
}
function submit(): void {
  refused.value = null
  begin.mutate()
}
const titleFault = computed(() => refused.value?.errors.find((item) => item.path === 'title')?.message ?? '')
</script>

<template>
  <section class="panel new" aria-label="New job">
    <Button
      v-if="folded"
      class="unfold"
      label="New job"
      icon="pi pi-plus"
      severity="secondary"
      variant="outlined"
      aria-expanded="false"
      data-unfold
      @click="unfold"
    />
    <form :class="{ folded }" @submit.prevent="submit">
      <h2>New job</h2>
      <div class="pair">
        <label for="new-title">Vehicle</label
        ><InputText
          id="new-title"
          v-model="title"
          size="small"
          autocomplete="off"
          placeholder="such as Milk float"
          :invalid="titleFault !== ''"
          maxlength="200"
          aria-describedby="new-error"
        />
      </div>
      <div class="pair">
        <label for="new-code">Job number</label
        ><InputText
          id="new-code"
          v-model="code"
          size="small"
          autocomplete="off"
          placeholder="optional"
          maxlength="80"
        />
      </div>
      <FromTemplate v-if="standing" v-model="template" />
      <Button type="submit" label="Start the survey" icon="pi pi-plus" size="small" :loading="begin.isPending.value" />
      <span class="or muted">or</span>
      <input
        ref="picker"
        type="file"
        accept=".json,application/json"
        class="visually-hidden"
        tabindex="-1"
        aria-label="Job file"
        @change="picked"
      />
      <Button
        label="Import a job file"
        icon="pi pi-upload"
        size="small"
        severity="secondary"
        variant="outlined"
        :loading="take.isPending.value"
        @click="picker?.click()"
      />
    </form>
    <div v-if="refused" id="new-error" class="refused" role="alert">
      <p class="stop">
        <b>■ {{ refused.title }}.</b> Nothing was stored.
      </p>
      <ul>
        <li v-for="wrong in refused.errors.slice(0, 40)" :key="wrong.path + wrong.message">
          <b v-if="wrong.field">{{ wrong.field }}</b> <code v-if="wrong.path">{{ wrong.path }}</code>
          {{ wrong.message }}
        </li>
      </ul>
      <p v-if="refused.errors.length > 40" class="muted">and {{ refused.errors.length - 40 }} more</p>
    </div>
  </section>
</template>

<style scoped>
.panel {
  padding: 12px 14px;
}
form {
  display: flex;
  align-items: center;
  gap: 14px;
  flex-wrap: wrap;
}
.pair {
  display: flex;
  align-items: center;
  gap: 8px;
  font-size: var(--text);
}
.pair label {
  color: var(--muted);
}
.refused {
  margin-top: 12px;
  font-size: var(--text);
}
.refused ul {
  margin: 6px 0 0;
  padding-left: 18px;
  display: grid;
  gap: 3px;
}
code {
  font-family: var(--narrow);
  background: var(--field);
  padding: 0 4px;
}
.unfold {
  display: none;
}
@media (max-width: 700px) {
  .unfold {
    display: flex;
    width: 100%;
    min-height: 44px;
  }
  form {
    display: grid;
    justify-items: stretch;
  }
  form.folded {
    display: none;
  }
  .pair {
    display: grid;
    gap: 3px;
  }
  .or {
    text-align: center;
  }
}
</style>
