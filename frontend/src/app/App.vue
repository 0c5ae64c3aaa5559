<script setup lang="ts">
import { useMediaQuery, useStorage } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { answered, client, Refused } from '../api/client'
import SignalMark from '../vehicle/SignalMark.vue'
import TroubleBar from './TroubleBar.vue'
import { asks, lastHere, locked, me } from '../api/signedIn'

const SignIn = defineAsyncComponent(() => import('../people/SignIn.vue'))
const route = useRoute()
if (asks)
  void answered(client.GET('/api/me')).then(
    (found) => (me.value = found.person),
    // Out of reach, whoever was in on this device last works on with what it holds.
    (error: unknown) => (me.value = error instanceof Refused ? null : lastHere()),
  )
/** The screens are made once somebody is in, and stay beneath a later sign-in with all that was typed. */
const seen = ref(!asks)
watch(me, (who) => (seen.value ||= who !== null && who !== undefined))
const joining = computed(() => route.name === 'join')
const night = useStorage('olvask.night', window.matchMedia('(prefers-color-scheme: dark)').matches)
const printing = useMediaQuery('print') // paper is white, whatever the screen
watchEffect(() => document.documentElement.classList.toggle('night', night.value && !printing.value))
</script>

<template>
  <SignalMark />
  <TroubleBar />
  <RouterView v-if="me !== undefined && (seen || joining)" v-slot="{ Component }">
    <component :is="Component" :night="night" :inert="locked && !joining" @night="night = !night" />
  </RouterView>
  <SignIn v-if="locked && !joining" />
</template>
