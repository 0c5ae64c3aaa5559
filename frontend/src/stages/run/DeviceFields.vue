<script setup lang="ts">
/** A protective device at a path: its family, and the ratings that family has. */
import { computed } from 'vue'
import type { Device } from '../../api/types'
import { useCatalogue } from '../../job/catalogue'
import { useJob } from '../../job/store'
import ChoiceField from '../../ui/ChoiceField.vue'
import { fieldAt } from '../../ui/fields'
import SelectField from '../../ui/SelectField.vue'
import { entered } from '../../ui/locale'

/** `optional`: there may be none. */
const props = defineProps<{ path: string; optional?: boolean }>()
const job = useJob()
const { data: catalogue } = useCatalogue()
const device = computed(() => (job.valueAt(props.path) ?? null) as Device | null)
const families = computed(() => catalogue.value?.families ?? [])
const choices = computed(() => [
  ...(props.optional ? [{ value: null, label: 'none of its own' }] : []),
  ...families.value.map((item) => ({ value: item.family, label: item.label })),
])
const ratingsOf = (family: string | null) => families.value.find((item) => item.family === family)?.ratings_a ?? []
const ratings = computed(() =>
  ratingsOf(device.value?.family ?? null).map((value) => ({ value, label: `${entered(value)} A` })),
)
/** Another family keeps the rating, or takes the next it has. */
const family = computed({
  get: () => device.value?.family ?? null,
  set: (chosen: string | null) => {
    const now = device.value?.rating_a ?? 1
    const rating_a = ratingsOf(chosen).find((item) => item >= now) ?? ratingsOf(chosen).at(-1)
    if (chosen === null) job.change([{ path: props.path, value: null }])
    else job.change([{ path: props.path, value: { ...device.value, kind: 'device', family: chosen, rating_a } }])
  },
})
</script>

<template>
  <SelectField v-model="family" :label="fieldAt(job.design, `${path}.family`).label" :options="choices" />
  <ChoiceField v-if="device" :path="`${path}.rating_a`" :options="ratings" />
</template>
