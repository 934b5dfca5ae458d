<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, value, type Schemas } from '@/api/client'
import { useModels } from '@/api/queries'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE } from '@/shared/tabs'
import ModelForm from './ModelForm.vue'
import type { Model } from './scores'

/** What ideas are scored by: the models that come with the product, and a team's own, which are made from one of them. */
const { product } = useSelection()
const { data: models, error, isPending } = useModels(product)
const { save } = useSave()
const route = useRoute()
const router = useRouter()
const opened = computed(() => {
  const key = route.query.model
  return models.value?.find((one) => (key ? one.key === key : one.used)) ?? models.value?.[0]
})
const open = (key: string) => router.replace({ query: { ...route.query, model: key } })

async function copy(of: Model) {
  const definition = { ...of.definition, title: `Our ${of.definition.title}`, method: 'own' as const }
  const body = { product: product.value, rev: null, definition }
  const saved = await save(value(api.POST('/api/v1/decide/models', { body })))
  if (saved?.thing) await open(String(saved.thing.id))
}
const keep = (of: Model, definition: Schemas['ModelDefinition']) =>
  save(
    value(
      api.POST('/api/v1/decide/models/{id}', {
        params: { path: { id: of.id as number } },
        body: { product: product.value, rev: of.rev, definition },
      }),
    ),
  )
const use = (of: Model) =>
  save(value(api.POST('/api/v1/decide/models/use', { body: { product: product.value, key: of.key } })))
const remove = (of: Model) =>
  save(
    value(
      api.DELETE('/api/v1/things/{kind}/{id}', {
        params: { path: { kind: 'scoring_model', id: of.id as number }, query: { rev: of.rev as number } },
      }),
    ),
  )
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <div v-if="models && opened" class="models" data-models>
      <nav aria-label="Scoring models">
        <RouterLink class="btn btn-plain" :to="{ name: 'ranking' }">Ranking</RouterLink>
        <ul>
          <li v-for="it in models" :key="it.key">
            <button
              type="button"
              class="btn btn-plain"
              :aria-pressed="it.key === opened.key"
              :class="{ on: it.key === opened.key }"
              @click="open(it.key)"
            >
              {{ it.definition.title }}
            </button>
            <span class="small quiet"
              >{{ it.id == null ? 'comes with the product' : `ours, version ${it.rev}`
              }}{{ it.used ? ' · we rank by it' : '' }}</span
            >
          </li>
        </ul>
      </nav>
      <div>
        <div class="row-flex">
          <h2>{{ opened.definition.title }}</h2>
          <button v-if="!opened.used" type="button" class="btn btn-primary" @click="use(opened)">Rank by it</button>
          <button type="button" class="btn btn-outline" @click="copy(opened)">Make our own of it</button>
          <button v-if="opened.id != null" type="button" class="btn btn-plain" @click="remove(opened)">
            Remove it
          </button>
        </div>
        <p class="small quiet">
          {{
            opened.id == null
              ? 'It stays as it is; make your own of it to change it.'
              : 'Decisions keep the version that they were taken by.'
          }}
        </p>
        <ModelForm :key="`${opened.key} ${opened.rev}`" :model="opened" :keep="(to) => keep(opened as Model, to)" />
      </div>
    </div>
  </StageFrame>
</template>

<style scoped>
.models {
  display: grid;
  gap: 8px 24px;
  grid-template-columns: 190px minmax(0, 1fr);
  padding: 10px 16px 60px;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li {
  display: grid;
  justify-items: start;
  margin-bottom: 8px;
}
li .btn.on {
  text-decoration-color: var(--kite);
  text-decoration-thickness: 2px;
}
h2 {
  font-size: 18px;
  margin: 0 10px 0 0;
}
@media (max-width: 760px) {
  .models {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
