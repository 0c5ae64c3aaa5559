<script setup lang="ts">
/** Beside a computed picture: that it is being worked out, or why there is no newer one. */
defineProps<{ pending: boolean; trouble: string; doing: string }>()
</script>

<template>
  <p v-if="trouble" class="caution" role="status" data-trouble>▲ {{ trouble }}</p>
  <p v-else-if="pending" class="muted" role="status">{{ doing }}</p>
</template>
