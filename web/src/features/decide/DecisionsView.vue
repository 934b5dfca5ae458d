<script setup lang="ts">
import { takeout } from '@/api/files'
import { useDecisions } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE } from '@/shared/tabs'
import { count, day, money, percent, withDays } from '@/shared/words'
import { labelOf, range, told } from './scores'

/** What was decided, why, by whom and on what, those that ask to be looked at again first. */
const { product, select, isSelected } = useSelection()
const { data, error, isPending } = useDecisions(product)
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <div v-if="data" class="decisions" data-decisions>
      <EmptyPlace v-if="!data.length" title="Nothing is decided yet">
        Choose an idea, or set it aside, in the <RouterLink :to="{ name: 'ranking' }">ranking</RouterLink>. What it
        rested on is kept as it was.
      </EmptyPlace>
      <a v-else class="btn btn-plain" :href="takeout.decisions(product)">Take out as Markdown</a>
      <ol v-if="data.length">
        <li
          v-for="it in data"
          :key="it.id"
          :class="{ on: isSelected('idea', it.idea), overtaken: it.overtaken }"
          :data-decision="it.id"
        >
          <h2>
            <button type="button" class="open" @click="select('idea', it.idea)">
              <span class="quiet">I{{ it.idea }}</span> {{ it.title }}
            </button>
          </h2>
          <p>
            <b>{{ it.outcome === 'chosen' ? 'Chosen' : 'Set aside' }}</b> on {{ day(it.on)
            }}<template v-if="it.by"> by {{ it.by }}</template
            >: {{ it.reason }}
            <span v-if="it.overtaken" class="small quiet">A later decision took its place.</span>
            <span v-else-if="it.look_again_on" class="small quiet"
              >To be looked at again on {{ day(it.look_again_on) }}.</span
            >
          </p>
          <div v-if="it.look_again.length" class="again" data-again>
            <b>Look at it again.</b>
            <ul>
              <li v-for="words in it.look_again" :key="words">{{ withDays(words) }}</li>
            </ul>
            <RouterLink class="btn btn-outline" :to="{ name: 'ranking', query: { at: `idea:${it.idea}` } }"
              >Decide again</RouterLink
            >
          </div>
          <details v-if="it.frozen" class="small">
            <summary class="quiet">What it rested on then</summary>
            <p>
              {{ it.frozen.model.definition.title
              }}<template v-if="it.frozen.model.version">, version {{ it.frozen.model.version }}</template
              >:
              <template v-if="it.frozen.kept.place.spread"
                >{{ told(it.frozen.kept.place.spread.median) }} ({{ told(it.frozen.kept.place.spread.low) }} to
                {{ told(it.frozen.kept.place.spread.high) }}), place {{ it.frozen.kept.place.rank }} of
                {{ it.frozen.of }}, in the top 3 in {{ percent(it.frozen.kept.place.top ?? 0) }} of all cases</template
              ><template v-else>no score; it lacked {{ it.frozen.kept.place.missing.join(', ') }}</template>
            </p>
            <ul>
              <li v-for="(estimated, field) in it.frozen.kept.fields" :key="field">
                {{ labelOf(it.frozen.model.definition, String(field)) }}: {{ range(estimated) }}
              </li>
            </ul>
            <p>
              {{ it.frozen.evidence.reasons.map(withDays).join('; ') }}.
              {{ count(it.frozen.voices.people, 'person', 'people') }},
              {{ count(it.frozen.voices.accounts, 'account') }}, € {{ money(it.frozen.voices.revenue) }} a year.
            </p>
          </details>
        </li>
      </ol>
    </div>
  </StageFrame>
</template>

<style scoped>
.decisions {
  padding: 8px 16px 40px;
}
ol {
  list-style: none;
  margin: 0;
  max-width: 900px;
  padding: 0;
}
ol > li {
  border-top: 1px solid var(--rule);
  padding: 10px 8px;
}
ol > li:first-child {
  border-top: 0;
}
ol > li.on {
  background: var(--panel);
}
h2 {
  font-size: 16px;
  margin: 0;
}
.open {
  background: none;
  border: 0;
  color: var(--ink);
  font-weight: 600;
  min-height: 24px;
  padding: 0;
  text-align: start;
}
.overtaken h2 {
  font-weight: 400;
}
.again {
  border: 1px solid var(--ink);
  border-radius: 6px;
  margin: 6px 0;
  padding: 6px 12px 8px;
}
p {
  margin: 2px 0;
}
ul {
  margin: 2px 0 4px;
  padding-left: 18px;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
</style>
