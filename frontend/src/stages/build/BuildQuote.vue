<script setup lang="ts">
/** The quote: which options, on which terms, what it says today, and those that were given. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, whyOf } from '../../api/client'
import { useDerived } from '../../api/derived'
import type { Design } from '../../api/types'
import { useJob } from '../../job/store'
import { dateOf } from '../../ui/locale'
import AnswerState from '../../ui/AnswerState.vue'
import NumberField from '../../ui/NumberField.vue'
import TextField from '../../ui/TextField.vue'
import HouseDiffers from '../../house/HouseDiffers.vue'
import QuoteColumns from './QuoteColumns.vue'
import { money } from '../../ui/format'
import { useHalfTyped } from '../../ui/halfTyped'

const job = useJob()
const queries = useQueryClient()
const path = computed(() => ({ job_id: job.id }))
const { data: kept } = useQuery({
  queryKey: ['options', computed(() => job.id)],
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/options', { params: { path: path.value } })),
  gcTime: 0,
})
const { data: given } = useQuery({
  queryKey: ['quotes', computed(() => job.id)],
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/quotes', { params: { path: path.value } })),
  gcTime: 0,
})
const options = computed(() => kept.value?.options ?? [])
const left = ref<number[]>([])
const name = useHalfTyped(() => `quote.${String(job.id)}`, 'As designed')
const asked = computed(() => options.value.filter((item) => !left.value.includes(item.id)))
function body(design: Design) {
  return {
    title: job.heading.title,
    code: job.heading.code,
    customer: job.heading.customer,
    options: [
      { name: name.value.trim() || 'As designed', design },
      ...asked.value.map((item) => ({ name: item.name, design: item.design })),
    ],
  }
}
const today = useDerived(
  'quote',
  (design, signal) => answered(client.POST('/api/build/quote', { body: body(design), signal })),
  { more: () => [asked.value.map((item) => item.id), name.value], pause_ms: 120 },
)
const told = ref('')
const trouble = ref('')
const nothing = computed(() => today.data.value?.options.every((option) => !option.finished) ?? true)
const give = useMutation({
  mutationFn: () => {
    if (job.design === null) throw new Error('no design')
    return answered(client.POST('/api/jobs/{job_id}/quotes', { params: { path: path.value }, body: body(job.design) }))
  },
  onMutate: () => {
    told.value = trouble.value = ''
  },
  onSuccess: (quote) => {
    told.value = `Quote ${String(quote.number)} is given, and stays as it is.`
    return queries.invalidateQueries({ queryKey: ['quotes'] })
  },
  onError: (error) => {
    trouble.value = whyOf(error, 'The server does not answer; nothing was given.')
  },
})
function turn(id: number): void {
  left.value = left.value.includes(id) ? left.value.filter((item) => item !== id) : [...left.value, id]
}
</script>

<template>
  <div class="quote">
    <div class="left">
      <section class="panel" aria-label="Options and terms">
        <div class="bench-head"><h2>Options</h2></div>
        <label class="named"
          ><span>This design is called</span> <input v-model="name" type="text" maxlength="80" autocomplete="off"
        /></label>
        <label v-for="item in options" :key="item.id" class="option">
          <input type="checkbox" :checked="!left.includes(item.id)" @change="turn(item.id)" /> {{ item.name }}
        </label>
        <p v-if="options.length === 0" class="muted">
          Options kept in Match are shown beside this design, up to three of them.
        </p>
        <h3>Terms</h3>
        <NumberField path="terms.rate_per_h" origin="entered" />
        <NumberField path="terms.hours_factor" origin="entered" />
        <NumberField path="terms.extra_h" origin="entered" />
        <TextField path="terms.extra_for" />
        <NumberField path="terms.parts_markup" origin="entered" />
        <NumberField path="terms.small_parts" origin="entered" />
        <NumberField path="terms.tax_percent" origin="entered" />
        <NumberField path="terms.valid_days" origin="entered" />
      </section>
      <HouseDiffers />
      <section class="panel" aria-label="Quotes given">
        <div class="bench-head"><h2>Given</h2></div>
        <ul>
          <li v-for="item in given?.quotes ?? []" :key="item.number">
            <a
              :href="`/api/jobs/${job.id}/quotes/${item.number}.pdf`"
              target="_blank"
              rel="noopener"
              :data-paper="`quote-${item.number}`"
              >Quote {{ item.number }}</a
            >
            <span class="muted">{{ dateOf(item.made) }}, valid until {{ dateOf(item.valid_until) }}</span>
            <div v-for="option in item.options" :key="option.name">
              {{ option.name }}: <b>{{ money(option.total, 2) }}</b>
            </div>
          </li>
        </ul>
        <p v-if="!given?.quotes.length" class="muted">
          None yet. A quote that was given stays as it is, though prices move.
        </p>
      </section>
    </div>
    <section class="panel today" aria-label="The quote as it would be given today">
      <div class="bench-head">
        <h2>As it would be given today</h2>
        <button type="button" class="give" :disabled="nothing || give.isPending.value" @click="give.mutate()">
          Give this quote
        </button>
      </div>
      <p v-if="told" role="status" class="good">✓ {{ told }}</p>
      <p v-if="trouble" role="alert" class="stop">■ {{ trouble }}</p>
      <AnswerState :pending="today.pending.value" :trouble="today.trouble.value" doing="Adding it up…" />
      <QuoteColumns v-if="today.data.value" :quote="today.data.value" />
    </section>
  </div>
</template>

<style scoped>
.left {
  display: grid;
  gap: 10px;
}
.quote {
  display: grid;
  grid-template-columns: 280px minmax(0, 1fr);
  gap: 10px;
  align-items: start;
}
.named {
  display: grid;
  gap: 2px;
  font-size: var(--text);
  margin-bottom: 6px;
}
.named input {
  min-height: 30px;
  background: var(--field);
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 2px 6px;
}
.option {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 28px;
}
.option input {
  width: 20px;
  height: 20px;
  accent-color: var(--copper);
}
.give {
  background: var(--copper);
  color: var(--panel);
  border: 0;
  border-radius: 3px;
  padding: 6px 14px;
  font-weight: 600;
  cursor: pointer;
}
.give:disabled {
  opacity: 0.5;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 10px;
  font-size: var(--text);
}
@media (max-width: 1100px) {
  .quote {
    grid-template-columns: minmax(0, 1fr);
  }
  .option,
  .named input {
    min-height: 44px;
  }
}
</style>
