<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useMe } from '@/api/queries'
import { useSave } from '@/api/save'
import { useRuleRuns, useRules } from '@/api/talk'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import { KINDS } from '@/api/kinds.gen'
import { count } from '@/shared/words'
import RuleForm from './RuleForm.vue'
import RunLines from './RunLines.vue'

/** What runs by itself: the rules of a product, what each did lately, and the form to make one. */
const { product } = useSelection()
const { data: rules, isPending, error } = useRules(product)
const { data: me } = useMe()
const { save } = useSave()
/** The rule that is changed; 0 for a new one. */
const edited = ref<number>()
const looked = ref<number>()
const { data: runs } = useRuleRuns(looked)
const may = computed(() => me.value?.role === 'editor' || me.value?.role === 'owner')
type Rule = Schemas['RuleView']

const did = (rule: Rule) => {
  const parts = [`ran ${rule.done === 1 ? 'once' : `${rule.done} times`}`]
  if (rule.stopped) parts.push(`was stopped ${count(rule.stopped, 'time')}`)
  if (rule.failed) parts.push(`could not do a step ${count(rule.failed, 'time')}`)
  return parts.join(', ')
}

function turn(rule: Rule) {
  const { title, definition, rev } = rule
  const body = { product: product.value, title, definition, rev, runs: !rule.runs }
  return save(value(api.PATCH('/api/v1/rules/{id}', { params: { path: { id: rule.id } }, body })))
}
function remove(rule: Rule) {
  const params = { path: { kind: 'rule' as const, id: rule.id }, query: { rev: rule.rev } }
  return save(value(api.DELETE('/api/v1/things/{kind}/{id}', { params })))
}
</script>

<template>
  <div class="rules" :aria-busy="isPending" data-work>
    <div class="row-flex">
      <h1>Rules</h1>
      <span class="small quiet"
        >Routine moves that run by themselves; each is a change like any other, and can be undone.</span
      >
      <button v-if="may && edited !== 0" type="button" class="btn btn-primary spacer" @click="edited = 0">
        Make a rule
      </button>
    </div>
    <p v-if="error" role="alert">{{ error.message }}</p>
    <section v-if="edited === 0" class="card-thing"><RuleForm @done="edited = undefined" /></section>
    <EmptyPlace v-if="rules && !rules.length && edited !== 0" title="No rule runs yet">
      When something happens, and if a condition holds, a rule sets a field, moves a thing, adds one, tells people or
      writes a comment. Before it runs you can see what it would have done in the last 30 days.
    </EmptyPlace>
    <article v-for="rule in rules" :key="rule.id" class="card-thing" :aria-label="rule.title" :data-rule="rule.id">
      <RuleForm v-if="edited === rule.id" :key="rule.rev" :rule="rule" @done="edited = undefined" />
      <template v-else>
        <div class="row-flex">
          <h2>{{ rule.title }}</h2>
          <span class="small quiet">{{ rule.runs ? 'runs' : 'does not run' }}</span>
          <template v-if="may">
            <button type="button" class="btn btn-plain spacer" @click="turn(rule)">
              {{ rule.runs ? 'stop it' : 'let it run' }}
            </button>
            <button type="button" class="btn btn-plain" @click="edited = rule.id">change it</button>
            <button type="button" class="btn btn-plain" @click="remove(rule)">remove it</button>
          </template>
        </div>
        <p>
          <b>When</b> {{ rule.when }}<template v-if="rule.definition.only_if">, <b>if</b> its condition holds</template>
        </p>
        <p><b>then</b> {{ rule.then }}</p>
        <p v-if="rule.fault" class="hatch" role="alert">
          <b>It cannot run as it is.</b> <span>{{ rule.fault }}</span>
        </p>
        <p class="small quiet">
          {{ KINDS[rule.definition.collection].heading }} · made by {{ rule.by ?? 'a command' }} · in 30 days it
          {{ did(rule) }}
          <button
            v-if="rule.done + rule.stopped + rule.failed"
            type="button"
            class="btn btn-plain"
            :aria-expanded="looked === rule.id"
            @click="looked = looked === rule.id ? undefined : rule.id"
          >
            {{ looked === rule.id ? 'fold' : 'what it did' }}
          </button>
        </p>
        <RunLines v-if="looked === rule.id && runs" :lines="runs" />
      </template>
    </article>
  </div>
</template>

<style scoped>
.rules {
  align-content: start;
  display: grid;
  gap: 12px;
  overflow: auto;
  padding: 18px 24px 56px;
}
.row-flex {
  flex-wrap: wrap;
  gap: 4px 12px;
}
h1 {
  font-size: 22px;
  margin: 0;
}
h2 {
  font-size: 16px;
  margin: 0;
}
.card-thing {
  padding: 12px 16px;
}
.card-thing p {
  margin: 4px 0 0;
}
</style>
