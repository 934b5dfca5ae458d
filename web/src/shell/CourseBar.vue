<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useCourse } from '@/api/queries'
import { useSelection } from '@/shared/selection'
import { whole } from '@/shared/words'
import { STAGES } from './stages'

/** The course: the seven stages as one drawn line in the order of the work, each with what wants attention. */
const { product } = useSelection()
const route = useRoute()
const { data } = useCourse(product)

const WIDTH = 890
const at = (stage: number) => 20 + (stage * (WIDTH - 110)) / (STAGES.length - 1)
const height = (x: number) => 21 + 3.2 * Math.sin(x / 95)
const path = `M${Array.from({ length: 147 }, (_, n) => 8 + n * 6)
  .map((x) => `${x} ${height(x).toFixed(1)}`)
  .join(' L')}`

/** The number and its word; a narrow window shows only the number. */
function needOf(stage: string): [string, string] {
  const node = data.value?.find((one) => one.stage === stage)
  return node ? [whole(node.count), node.words.slice(node.words.indexOf(' ') + 1)] : ['', '']
}

const current = computed(() => String(route.path).split('/')[3] ?? '')
const nodes = computed(() =>
  STAGES.map((stage, n) => ({
    ...stage,
    x: at(n),
    y: height(at(n)),
    on: stage.path === current.value,
    need: needOf(stage.path),
  })),
)
</script>

<template>
  <nav class="line" aria-label="Course">
    <svg class="drawn" :viewBox="`0 0 ${WIDTH} 56`" preserveAspectRatio="none" aria-hidden="true">
      <path :d="path" fill="none" stroke="var(--quiet)" stroke-width="1.3" vector-effect="non-scaling-stroke" />
    </svg>
    <ol>
      <li
        v-for="(node, n) in nodes"
        :key="node.path"
        :style="{ left: `${(node.x / WIDTH) * 100}%`, top: `${node.y}px` }"
      >
        <RouterLink
          :to="`/p/${product}/${node.path}`"
          :class="{ on: node.on }"
          :aria-current="node.on ? 'page' : undefined"
          :title="`Alt+${n + 1}`"
        >
          <svg width="14" height="18" viewBox="-7 -9 14 18" aria-hidden="true">
            <polygon
              points="0,-8 6,-1 0,8 -6,-1"
              :fill="node.on ? 'var(--kite)' : 'var(--panel)'"
              :stroke="node.on ? 'var(--kite)' : 'var(--quiet)'"
              stroke-width="1.5"
            />
          </svg>
          <span class="name">{{ node.label }}</span>
          <span class="need"
            >{{ `${node.need[0]} ` }}<span class="word">{{ node.need[1] }}</span></span
          >
        </RouterLink>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.line {
  height: 56px;
  position: relative;
}
.drawn {
  height: 100%;
  inset: 0;
  position: absolute;
  width: 100%;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  position: absolute;
}
a {
  color: var(--ink);
  display: block;
  height: 50px;
  margin: -17px 0 0 -7px;
  min-width: 78px;
  position: relative;
  text-decoration: none;
}
a svg {
  left: 0;
  position: absolute;
  top: 8px;
}
.name {
  font-size: 14.5px;
  font-weight: 500;
  left: 18px;
  position: absolute;
  top: -4px;
  white-space: nowrap;
}
.on .name {
  font-weight: 700;
}
.need {
  color: var(--quiet);
  font-size: 12.5px;
  left: 18px;
  position: absolute;
  top: 27px;
  white-space: nowrap;
}
@media (max-width: 1100px) {
  .need {
    max-width: 84px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
}
@media (max-width: 900px) {
  .word {
    display: none;
  }
  .name {
    font-size: 13px;
  }
  a {
    min-width: 60px;
  }
}
@media (max-width: 719px) {
  .word {
    display: inline;
  }
  .line {
    height: auto;
  }
  .drawn {
    display: none;
  }
  li {
    position: static;
  }
  a {
    height: 34px;
    margin: 0;
    padding: 6px 0 0 22px;
  }
  .name,
  .need {
    position: static;
  }
  .need {
    margin-left: 8px;
    max-width: none;
  }
}
</style>
