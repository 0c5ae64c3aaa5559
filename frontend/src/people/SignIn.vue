<script setup lang="ts">
/** Signing in. What was typed on the screens beneath stays where it is. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, client, whyOf } from '../api/client'
import { me } from '../api/signedIn'
import GateForm from './GateForm.vue'
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
    trouble.value = whyOf(error, 'The server does not answer. Try again.')
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <GateForm name="Sign in" data-sign-in @go="signIn">
    <p class="muted">This server asks who you are. What you typed before is kept.</p>
    <label for="sign-name">Name</label>
    <InputText id="sign-name" v-model="name" autocomplete="username" maxlength="80" autofocus />
    <label for="sign-password">Password</label>
    <InputText id="sign-password" v-model="password" type="password" autocomplete="current-password" maxlength="200" />
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    <Button type="submit" label="Sign in" :loading="busy" :disabled="!name || !password" />
    <p class="muted">
      New here, or on a new phone: open the address, or point the camera at the picture, that somebody signed in shows
      you under House rules.
    </p>
  </GateForm>
</template>
