<script setup lang="ts">
/** A unit's states in its own words: ticked are those in which it charges. */
import { computed } from 'vue'
import type { LogMapping, LookedAt } from '../../../api/types'
import { fieldOf } from '../../../ui/fields'
import Checkbox from '../../../ui/prime/checkbox'
import { statesOf, withState } from './deviceLog'

const props = defineProps<{ mapping: LogMapping; looked: LookedAt }>()
const emit = defineEmits<{ change: [LogMapping] }>()
const words = computed(() => statesOf(props.mapping, props.looked))
</script>

<template>
  <fieldset v-if="words.length" class="states" data-log-states>
    <legend>{{ fieldOf('log.charging').label }}</legend>
    <label v-for="word in words" :key="word">
      <Checkbox
        :model-value="mapping.charging.includes(word)"
        binary
        size="small"
        :data-log-state="word"
        @update:model-value="emit('change', withState(mapping, looked, word, $event === true))"
      />
      {{ word }}
    </label>
  </fieldset>
</template>

<style scoped>
.states label {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 28px;
}
.states {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  border: 1px solid var(--hair);
  margin: 0;
  padding: 4px 10px 8px;
}
</style>
