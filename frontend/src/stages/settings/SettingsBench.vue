<script setup lang="ts">
/** Settings in pages: the sheet with every source, the charge profile, other sources, the monitor, cold and heat. */
import { useSessionStorage } from '@vueuse/core'
import { defineAsyncComponent } from 'vue'
import BenchPages from '../../ui/BenchPages.vue'
import SettingsSheet from './SettingsSheet.vue'

type Page = 'sheet' | 'profile' | 'sources' | 'monitor' | 'climate'
const SettingsProfile = defineAsyncComponent(() => import('./SettingsProfile.vue'))
const SettingsSources = defineAsyncComponent(() => import('./SettingsSources.vue'))
const SettingsMonitor = defineAsyncComponent(() => import('./SettingsMonitor.vue'))
const SettingsClimate = defineAsyncComponent(() => import('./SettingsClimate.vue'))
const page = useSessionStorage<Page>('olvask.settings', 'sheet')
const pages: { key: Page; label: string }[] = [
  { key: 'sheet', label: 'Sheet and sources' },
  { key: 'profile', label: 'Charge profile' },
  { key: 'sources', label: 'Other sources' },
  { key: 'monitor', label: 'Monitor' },
  { key: 'climate', label: 'Cold, heat, waking' },
]
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Settings pages">
    <SettingsSheet v-if="page === 'sheet'" />
    <SettingsProfile v-else-if="page === 'profile'" />
    <SettingsSources v-else-if="page === 'sources'" />
    <SettingsMonitor v-else-if="page === 'monitor'" />
    <SettingsClimate v-else />
  </BenchPages>
</template>
