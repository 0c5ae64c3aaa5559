<script setup lang="ts">
/** Signing in. What was typed on the screens beneath stays where it is. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, client, Refused } from '../api/client'
import { me } from '../api/signedIn'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'

const queries = useQueryClient()
const name = ref('')
const password = ref('')
const trouble = ref('')
const busy = ref(false)
async function signIn(): Promise<void> {
  busy.value = true
  trouble.value = ''
  try {
    const answer = await answered(client.POST('/api/sign-in', { body: { name: name.value, password: password.value } }))
    password.value = ''
    await queries.invalidateQueries()
    me.value = answer.person
  } catch (error) {
    trouble.value =
      error instanceof Refused
        ? (error.problem.errors?.[0]?.message ?? error.problem.detail)
        : 'The server does not answer. Try again.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="gate" data-sign-in>
    <form class="panel" aria-label="Sign in" @submit.prevent="signIn">
      <h1>Olvask</h1>
      <p class="muted">This server asks who you are. What you typed before is kept.</p>
      <label for="sign-name">Name</label>
      <InputText id="sign-name" v-model="name" autocomplete="username" maxlength="80" autofocus />
      <label for="sign-password">Password</label>
      <InputText
        id="sign-password"
        v-model="password"
        type="password"
        autocomplete="current-password"
        maxlength="200"
      />
      <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
      <Button type="submit" label="Sign in" :loading="busy" :disabled="!name || !password" />
      <p class="muted">
        New here, or on a new phone: open the address, or point the camera at the picture, that somebody signed in shows
        you under House rules.
      </p>
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
  width: min(360px, 100%);
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
