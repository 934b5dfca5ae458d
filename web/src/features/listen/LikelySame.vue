<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useLikelySame } from '@/api/queries'
import { useSave } from '@/api/save'
import { count } from '@/shared/words'

/** People or accounts that may be the same: suggested, and for somebody to say. */
const props = defineProps<{ kind: 'person' | 'account' }>()
const { save } = useSave()
const { data: pairs } = useLikelySame(() => props.kind)
const open = ref(false)
const words = computed(() => count(pairs.value?.length ?? 0, 'pair'))
const letter = computed(() => (props.kind === 'person' ? 'P' : 'A'))

const merge = (pair: Schemas['LikelySame'], keep: number) => {
  const others = [keep === pair.one ? pair.other : pair.one]
  return save(value(api.POST('/api/v1/listen/merge', { body: { kind: props.kind, keep, others } })))
}
const two = (pair: Schemas['LikelySame']) => {
  const body = {
    kind: 'not_same' as const,
    from: { kind: props.kind, id: pair.one },
    to: { kind: props.kind, id: pair.other },
  }
  return save(value(api.POST('/api/v1/links', { body })))
}
</script>

<template>
  <section v-if="pairs?.length" class="guessed same" aria-label="May be the same" data-likely>
    <div class="row-flex">
      <b>{{ words }} may be the same</b> <span class="small quiet">suggested from the names</span>
      <button type="button" class="btn btn-plain" :aria-expanded="open" @click="open = !open">
        {{ open ? 'Fold' : 'Look at them' }}
      </button>
    </div>
    <ul v-if="open">
      <li v-for="pair in pairs.slice(0, 20)" :key="`${pair.one} ${pair.other}`" class="row-flex">
        <span
          >{{ letter }}{{ pair.one }} <b>{{ pair.one_name }}</b> · {{ letter }}{{ pair.other }}
          <b>{{ pair.other_name }}</b> <span class="small quiet">{{ pair.why }}</span></span
        >
        <button type="button" class="btn btn-outline" @click="merge(pair, pair.one)">One: {{ pair.one_name }}</button>
        <button type="button" class="btn btn-outline" @click="merge(pair, pair.other)">
          One: {{ pair.other_name }}
        </button>
        <button type="button" class="btn btn-plain" @click="two(pair)">They are two</button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.same {
  margin: 8px 16px;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  max-height: 30vh;
  overflow: auto;
  padding: 0;
}
li {
  flex-wrap: wrap;
  padding: 3px 0;
}
</style>
