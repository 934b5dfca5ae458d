<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, value, type Schemas, type ThingKind } from '@/api/client'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import { useSelection } from '@/shared/selection'
import { day, whole } from '@/shared/words'
import LinkPicker from '@/shared/LinkPicker.vue'

/** What belongs to an idea: the problem, findings and objectives, and the decision. */
const props = defineProps<{
  idea: Schemas['IdeaView']
  objectives: readonly Schemas['ObjectiveView'][]
  findings: readonly Schemas['FindingView'][]
}>()
const { product } = useSelection()
const router = useRouter()
const { save, edit } = useSave()
const reason = ref('')
const decided = computed(() => props.idea.decision)

async function decide(outcome: 'chosen' | 'set_aside') {
  const body = { rev: props.idea.rev, outcome, reason: reason.value }
  if (
    await save(value(api.POST('/api/v1/decide/ideas/{id}/decision', { params: { path: { id: props.idea.id } }, body })))
  )
    reason.value = ''
}

function link(kind: 'supports' | 'asks_for', fromKind: ThingKind, id: number, on: boolean) {
  const body = { kind, from: { kind: fromKind, id }, to: { kind: 'idea' as const, id: props.idea.id } }
  return save(value(on ? api.POST('/api/v1/links', { body }) : api.POST('/api/v1/links/remove', { body })))
}

async function makeEpic() {
  const body = { product_id: product.value, idea_id: props.idea.id }
  const saved = await save(value(api.POST('/api/v1/specify/epics', { body })))
  if (saved?.thing) await router.push({ name: 'stories', query: { at: `work_item:${saved.thing.id}` } })
}

const remove = () =>
  save(
    value(
      api.DELETE('/api/v1/things/{kind}/{id}', {
        params: { path: { kind: 'idea', id: props.idea.id }, query: { rev: props.idea.rev } },
      }),
    ),
  )
</script>

<template>
  <div class="detail">
    <div>
      <EditField
        :value="idea.problem"
        label="The problem that it solves"
        placeholder="The problem that it solves"
        wrap
        @save="edit({ kind: 'idea', id: idea.id }, idea, { problem: $event })"
      />
      <LinkPicker
        label="Objectives"
        letter="O"
        :all="objectives"
        :linked="idea.objectives"
        @link="link('asks_for', 'objective', $event, true)"
        @unlink="link('asks_for', 'objective', $event, false)"
      />
      <LinkPicker
        label="Findings"
        letter="N"
        :all="findings"
        :linked="idea.findings"
        @link="link('supports', 'finding', $event, true)"
        @unlink="link('supports', 'finding', $event, false)"
      />
    </div>
    <div>
      <p v-if="decided" class="decided">
        <b>{{ decided.outcome === 'chosen' ? 'Chosen' : 'Set aside' }}</b> on {{ day(decided.decided_on)
        }}<template v-if="decided.score != null">, at RICE {{ whole(decided.score) }}</template
        >: {{ decided.reason }}
      </p>
      <form
        v-if="idea.state !== 'shipped'"
        class="decide"
        @submit.prevent="decide(idea.state === 'chosen' ? 'set_aside' : 'chosen')"
      >
        <label>
          <span class="small quiet">{{ decided ? 'Decide again: why?' : 'Decide: why?' }}</span>
          <textarea v-model="reason" class="form-control" rows="2" required></textarea>
        </label>
        <div class="row-flex">
          <button v-if="idea.state !== 'chosen'" type="submit" class="btn btn-primary">Choose it</button>
          <button v-if="idea.state !== 'set_aside'" type="button" class="btn btn-outline" @click="decide('set_aside')">
            Set it aside
          </button>
        </div>
      </form>
      <div class="row-flex steps">
        <button
          v-if="idea.state === 'chosen' && idea.epics.length === 0"
          type="button"
          class="btn btn-primary"
          @click="makeEpic"
        >
          Make an epic of it
        </button>
        <RouterLink
          v-for="epic in idea.epics"
          :key="epic"
          class="btn btn-outline"
          :to="{ name: 'stories', query: { at: `work_item:${epic}` } }"
          >Open E{{ epic }}</RouterLink
        >
        <button type="button" class="btn btn-plain" @click="remove">Remove</button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.detail {
  display: grid;
  gap: 20px;
  grid-template-columns: 1fr 1fr;
}
.decided {
  margin: 0 0 8px;
}
.decide {
  display: grid;
  gap: 8px;
}
.decide label {
  display: block;
}
.steps {
  margin-top: 10px;
}
@media (max-width: 900px) {
  .detail {
    grid-template-columns: 1fr;
  }
}
</style>
