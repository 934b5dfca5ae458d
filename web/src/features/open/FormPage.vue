<script setup lang="ts">
import { computed, onMounted, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import FormFields from './FormFields.vue'
import OpenFrame from './OpenFrame.vue'
import SentLink from './SentLink.vue'

/** A request form as customers and colleagues fill it in. */
const route = useRoute()
const key = computed(() => String(route.params.key))
const form = ref<Schemas['OpenForm']>()
const answers = reactive<Record<string, string>>({})
const faults = ref<Record<string, string>>({})
const problem = ref('')
const busy = ref(false)
const sent = ref('')
const path = () => ({ params: { path: { key: key.value } } })

onMounted(async () => {
  try {
    form.value = await value(api.GET('/api/v1/open/forms/{key}', path()))
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.code === 'not-found' ? 'There is no form at this address, or it is closed.' : error.message
  }
})

async function send() {
  busy.value = true
  problem.value = ''
  faults.value = {}
  try {
    const done = await value(api.POST('/api/v1/open/forms/{key}', { ...path(), body: { answers } }))
    sent.value = done.key
    scrollTo(0, 0)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    for (const fault of error.body.faults ?? []) faults.value[fault.field.split('/').at(-1) ?? ''] = fault.words
    problem.value = Object.keys(faults.value).length ? 'Look at what is marked above.' : error.body.detail
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <OpenFrame v-if="sent && form" title="Thank you, we have it" :product="form.product">
    <SentLink :sent="sent" />
  </OpenFrame>
  <OpenFrame v-else-if="form" :title="form.title" :product="form.product">
    <p v-if="form.intro" class="intro">{{ form.intro }}</p>
    <form novalidate @submit.prevent="send">
      <FormFields v-model="answers" :fields="form.fields" :faults="faults" />
      <div class="trap" aria-hidden="true">
        <label
          >Leave this empty <input v-model="answers.website" name="website" tabindex="-1" autocomplete="off"
        /></label>
      </div>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <button type="submit" class="btn btn-primary" :disabled="busy">{{ busy ? 'Sending …' : 'Send it' }}</button>
    </form>
    <p class="small quiet">
      You get a link by which only you can see what becomes of it. What you write is read by the team and kept with your
      name where you give it.
    </p>
  </OpenFrame>
  <OpenFrame v-else-if="problem" title="Nothing here">
    <p role="alert">{{ problem }} Ask whoever gave you the link for another one.</p>
  </OpenFrame>
</template>

<style scoped>
.intro {
  white-space: pre-line;
}
.btn {
  font-size: 17px;
  margin: 18px 0;
  min-height: 44px;
  width: 100%;
}
.trap {
  height: 0;
  opacity: 0;
  overflow: hidden;
  position: absolute;
  width: 0;
}
</style>
