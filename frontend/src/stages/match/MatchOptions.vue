<script setup lang="ts">
/** Variants of the job side by side: differences only, what each costs, what follows; one becomes the design. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from '../../ui/prime/button'
import InputText from '../../ui/prime/inputtext'
import { computed, ref } from 'vue'
import { answered, client, whyOf } from '../../api/client'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useJob } from '../../job/store'
import { emptying, useHalfTyped } from '../../ui/halfTyped'

const job = useJob()
const queries = useQueryClient()
const name = useHalfTyped(() => `option.${String(job.id)}`, '')
const trouble = ref('')
const path = computed(() => ({ job_id: job.id }))
const { data } = useQuery({
  queryKey: ['options', computed(() => job.id)],
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/options', { params: { path: path.value } })),
  gcTime: 0,
})
const options = computed(() => data.value?.options ?? [])
const {
  data: compared,
  pending,
  trouble: waiting,
} = useDerived(
  'compare',
  (design, signal) => {
    const kept = options.value.map((item) => ({ name: item.name, design: item.design }))
    return answered(client.POST('/api/compare', { body: { variants: [{ name: 'Now', design }, ...kept] }, signal }))
  },
  { more: () => options.value.map((item) => item.id), wanted: () => options.value.length > 0 },
)
const rows = computed(() => [
  ...(compared.value?.differences ?? []).map((row) => ({ ...row, part: 'differs' })),
  ...(compared.value?.consequences ?? []).map((row) => ({ ...row, part: 'follows' })),
])
const refresh = () => queries.invalidateQueries({ queryKey: ['options'] })
const fail = (error: unknown) => {
  trouble.value = whyOf(error, 'The server does not answer; nothing was changed.')
}
const letter = computed(() => name.value.trim() || `Option ${String.fromCharCode(65 + options.value.length)}`)
const keep = useMutation({
  mutationFn: () => {
    if (job.design === null) throw new Error('no design')
    return answered(
      client.POST('/api/jobs/{job_id}/options', {
        params: { path: path.value },
        body: { name: letter.value, design: job.design },
      }),
    )
  },
  onMutate: () => {
    trouble.value = ''
    return emptying(name)
  },
  onSuccess: (_kept, _asked, taken) => {
    taken()
    return refresh()
  },
  onError: fail,
})
const drop = useMutation({
  mutationFn: (id: number) =>
    answered(
      client.DELETE('/api/jobs/{job_id}/options/{option_id}', { params: { path: { job_id: job.id, option_id: id } } }),
    ),
  onMutate: () => {
    trouble.value = ''
  },
  onSuccess: refresh,
  onError: fail,
})
function take(at: number): void {
  const chosen = options.value[at]
  if (chosen) job.change(Object.entries(chosen.design).map(([key, value]) => ({ path: key, value })))
}
</script>

<template>
  <section class="panel" aria-label="Options compared">
    <div class="bench-head">
      <h2>Options compared</h2>
      <span class="aside">{{
        options.length ? 'differences only; ✓ marks the better' : 'up to three beside the design'
      }}</span>
    </div>
    <AnswerState :pending="pending" :trouble="waiting" doing="Comparing…" />
    <form @submit.prevent="keep.mutate()">
      <label for="option-name">Keep the design as it stands as</label
      ><InputText
        id="option-name"
        v-model="name"
        size="small"
        :placeholder="letter"
        maxlength="80"
        autocomplete="off"
      />
      <Button
        type="submit"
        label="Keep as option"
        icon="pi pi-bookmark"
        size="small"
        severity="secondary"
        variant="outlined"
        :disabled="options.length >= 3 || keep.isPending.value"
      />
    </form>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    <p v-if="options.length === 0" class="muted empty">
      Keep the design as an option, then change what you like: unit, setting, cables. Both stand here side by side with
      what they cost and what follows.
    </p>
    <div v-else class="scroll">
      <table>
        <thead>
          <tr>
            <th />
            <th scope="col">Now</th>
            <th v-for="(option, at) in options" :key="option.id" scope="col">
              {{ option.name
              }}<span class="acts"
                ><button type="button" class="link" :aria-label="`make ${option.name} the design`" @click="take(at)">
                  make it the design
                </button>
                <button type="button" class="link" :aria-label="`drop ${option.name}`" @click="drop.mutate(option.id)">
                  drop
                </button></span
              >
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-if="!compared?.differences.length">
            <th scope="row">Differences</th>
            <td :colspan="options.length + 1" class="muted">None yet: change something in the design.</td>
          </tr>
          <tr v-for="row in rows" :key="row.part + row.path" :class="row.part" :data-row="row.path">
            <th scope="row">{{ row.label }}</th>
            <td v-for="(value, at) in row.values" :key="at" :class="{ best: row.best?.includes(at) }">
              <span v-if="row.best?.includes(at)" aria-label="better">✓ </span>{{ value }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  font-size: var(--text);
  margin-bottom: 6px;
}
form label {
  color: var(--muted);
}
.empty {
  font-size: var(--text);
  max-width: 64ch;
  line-height: 1.4;
}
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  font-size: var(--text);
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 3px 14px 3px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
  max-width: 260px;
}
thead th {
  border-color: var(--edge);
  font-weight: 600;
}
tbody th {
  font-weight: 400;
  color: var(--muted);
  min-width: 150px;
}
.differs td {
  font-weight: 600;
}
.best {
  color: var(--verdigris);
  font-weight: 600;
}
.acts {
  display: flex;
  gap: 12px;
  font-size: var(--text);
  font-weight: 400;
}
</style>
