<script setup lang="ts">
/** The frame of what stands before the screens: signing in, joining. */
defineProps<{ name: string }>()
defineEmits<{ go: [] }>()
</script>

<template>
  <main class="gate">
    <form class="panel" :aria-label="name" @submit.prevent="$emit('go')">
      <h1>Olvask</h1>
      <slot />
    </form>
  </main>
</template>

<style scoped>
.gate {
  position: fixed;
  inset: 0;
  z-index: 2000;
  background: var(--paper);
  display: grid;
  place-items: center;
  padding: 16px;
  overflow: auto;
}
.panel {
  width: min(380px, 100%);
  padding: 20px 22px;
  display: grid;
  gap: 8px;
}
.panel :deep(input) {
  min-height: 44px;
}
h1 {
  color: var(--copper);
  font-size: var(--title);
}
</style>
