<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

const night = useStorage('olvask.night', window.matchMedia('(prefers-color-scheme: dark)').matches)
watchEffect(() => document.documentElement.classList.toggle('night', night.value))
</script>

<template>
  <RouterView v-slot="{ Component }">
    <component :is="Component" :night="night" @night="night = !night" />
  </RouterView>
</template>
