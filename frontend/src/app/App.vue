<script setup lang="ts">
import { useMediaQuery, useStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

const night = useStorage('olvask.night', window.matchMedia('(prefers-color-scheme: dark)').matches)
const printing = useMediaQuery('print') // paper is white, whatever the screen
watchEffect(() => document.documentElement.classList.toggle('night', night.value && !printing.value))
</script>

<template>
  <RouterView v-slot="{ Component }">
    <component :is="Component" :night="night" @night="night = !night" />
  </RouterView>
</template>
