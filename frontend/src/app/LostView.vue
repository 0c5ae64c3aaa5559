<script setup lang="ts">
defineProps<{ night: boolean }>()
defineEmits<{ night: [] }>()
</script>

<template>
  <main class="lost">
    <h1>There is no screen at this address</h1>
    <RouterLink to="/">Back to the yard</RouterLink>
  </main>
</template>

<style scoped>
.lost {
  padding: 48px 24px;
  display: grid;
  gap: 12px;
}
h1 {
  font-size: var(--title);
}
</style>
