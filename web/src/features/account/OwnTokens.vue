<script setup lang="ts">
import { ROLES } from '@/shared/rights'
import { computed, reactive, ref } from 'vue'
import { useQuery } from '@pinia/colada'
import { api, value, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { moment } from '@/shared/words'

/** Programs that ask on my behalf: each with a token, which I can end. */
const props = defineProps<{ role: Schemas['Role'] }>()
const attempt = useAttempt()
const tokens = useQuery({ key: ['my-tokens'], query: () => value(api.GET('/api/v1/me/tokens')) })
const roles = computed(() => ROLES.slice(0, ROLES.indexOf(props.role) + 1))
const form = reactive({ name: '', role: 'viewer' as Schemas['Role'] })
const made = ref<string>()

async function add() {
  const token = await attempt(() => value(api.POST('/api/v1/me/tokens', { body: { ...form } })))
  if (!token) return
  made.value = token.key
  form.name = ''
  await tokens.refetch()
}
async function end(id: number) {
  await attempt(() => value(api.DELETE('/api/v1/tokens/{id}', { params: { path: { id } } })))
  await tokens.refetch()
}
</script>

<template>
  <section aria-labelledby="tokens">
    <h2 id="tokens">Programs that ask for you</h2>
    <ul>
      <li v-for="one in tokens.data.value" :key="one.id">
        <div>
          {{ one.name }} <span class="small quiet">as {{ one.role }}</span>
          <div class="small quiet">
            made {{ moment(one.made_at) }}{{ one.used_at ? `, used last ${moment(one.used_at)}` : ', never used' }}
          </div>
        </div>
        <button type="button" class="btn btn-outline spacer" :aria-label="`End: ${one.name}`" @click="end(one.id)">
          End
        </button>
      </li>
    </ul>
    <div v-if="made" role="status" class="made">
      <p>This is its token. It is shown only now; a program sends it as <code>Authorization: Bearer …</code></p>
      <input
        class="form-control"
        readonly
        :value="made"
        aria-label="The token"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <button type="button" class="btn btn-plain" @click="made = undefined">Done</button>
    </div>
    <form @submit.prevent="add">
      <label
        >For <input v-model="form.name" class="form-control" required maxlength="80" placeholder="the nightly report"
      /></label>
      <label
        >May no more than a
        <select v-model="form.role" class="form-select">
          <option v-for="one in roles" :key="one" :value="one">{{ one }}</option>
        </select></label
      >
      <button type="submit" class="btn btn-outline">Make a token</button>
    </form>
  </section>
</template>

<style scoped>
.made {
  border: 1px solid var(--ink);
  border-radius: 6px;
  display: grid;
  gap: 6px;
  justify-items: start;
  margin: 8px 0;
  padding: 10px 12px;
}
.made p {
  margin: 0;
}
form {
  align-items: end;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 10px;
}
label {
  display: grid;
  gap: 2px;
}
</style>
