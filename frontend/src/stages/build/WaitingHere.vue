<script setup lang="ts">
/** What is noted here and not with the server yet, and what the server would not take. */
import type { useBuildLog } from './buildLog'

const props = defineProps<{ log: ReturnType<typeof useBuildLog> }>()
const refused = props.log.refused
</script>

<template>
  <p v-if="log.waiting.value.length" class="caution" role="status">
    {{ log.away.value ? 'kept here, sent when in reach' : 'sending' }}: {{ log.waiting.value.length }}
  </p>
  <p v-if="log.full.value" class="stop" role="alert" data-full>
    ■ This device is full: {{ log.full.value }} of these {{ log.full.value === 1 ? 'is' : 'are' }} held by this page
    alone. Leave it open until they are sent, or make room on the device.
  </p>
  <p v-for="(text, at) in refused" :key="at" class="stop" role="alert">
    ■ Not kept: {{ text }} <button type="button" class="link" @click="refused = []">read</button>
  </p>
</template>
