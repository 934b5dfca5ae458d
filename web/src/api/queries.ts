import { useQuery, useQueryCache } from '@pinia/colada'
import { toValue, type MaybeRefOrGetter } from 'vue'
import type { operations } from './schema.gen'
import { api, value, type Schemas, type Thing, type ThingKind } from './client'

type Of<T> = MaybeRefOrGetter<T>
export type ReportAsk = operations['report']['parameters']['query']
type FindingExcerptsAsk = NonNullable<operations['finding_excerpts']['parameters']['query']>

/** Which questions each kind of thing answers: a change of the kind asks them again. */
export const ASKED_BY: Record<string, readonly ThingKind[]> = {
  products: ['product'],
  item: ['feedback_item', 'excerpt', 'link'],
  findings: ['finding', 'link', 'excerpt', 'account', 'feedback_item'],
  'finding-excerpts': ['link', 'excerpt', 'finding'],
  'finding-picture': ['link', 'excerpt', 'finding', 'account', 'feedback_item'],
  'said-overview': ['feedback_item', 'excerpt', 'finding', 'link', 'account'],
  report: ['link', 'excerpt', 'finding', 'account', 'feedback_item', 'study'],
  narrower: ['link', 'excerpt'],
  evidence: ['link', 'excerpt', 'finding'],
  'to-check': ['checking', 'excerpt', 'link', 'finding'],
  agreements: ['checking', 'excerpt'],
  run: ['finding', 'link'],
  board: ['work_item', 'criterion', 'release', 'link', 'idea'],
  story: ['work_item', 'criterion', 'link'],
  study: ['study'],
  'likely-same': ['person', 'account', 'link'],
  backbone: ['activity', 'step'],
  releases: ['release', 'work_item', 'link', 'criterion'],
  teams: ['team', 'team_column', 'membership'],
  queue: ['team', 'team_column', 'membership', 'work_item', 'criterion'],
  roadmap: ['release', 'work_item'],
  objectives: ['objective', 'measurement', 'result', 'link', 'idea', 'release', 'work_item', 'increment'],
  objective: ['objective', 'measurement', 'result', 'link', 'idea', 'release', 'work_item', 'increment'],
  idea: ['idea', 'link', 'excerpt', 'finding', 'account', 'feedback_item', 'work_item', 'increment', 'result', 'study'],
  form: ['request_form'],
  serves: ['objective', 'link'],
  models: ['scoring_model', 'product'],
  market: ['competitor', 'capability', 'competitor_note', 'found_page', 'link', 'idea'],
  'found-page': ['found_page'],
  'likely-same-ideas': ['idea', 'link'],
  learned: ['result', 'release', 'work_item', 'idea', 'link'],
  talk: ['comment', 'document', 'page', 'feedback_item', 'excerpt'],
  rules: ['rule'],
  fields: ['field'],
  views: ['view'],
  workspace: ['product', 'team', 'team_column', 'membership'],
  'brought-in': ['source', 'feedback_item', 'excerpt'],
}

/** What any change may bear on: a field can be computed over several links. */
export const ASKED_BY_ALL = [
  ...['jobs', 'runs', 'channels', 'course', 'trace', 'history', 'undo', 'rows', 'groups', 'search', 'opening'],
  ...['scores', 'why', 'budget', 'decisions', 'prioritisations', 'prioritisation', 'estimates'],
]

/** What is heard where nothing changed but what people are told. */
export const TOLD = 'told'
const NEWS = ['notices', 'opening', 'rules']

/**
 * Asks again what the change of these kinds may have changed; everything where nothing is named. An answer that does
 * not come is told where it is shown: what was written stays written, so this never fails.
 */
export function useRefresh() {
  const cache = useQueryCache()
  const ask = (name?: string) => cache.invalidateQueries(name ? { key: [name] } : undefined)
  return async (kinds?: readonly string[]): Promise<void> => {
    if (kinds?.length === 1 && kinds[0] === TOLD) return void (await Promise.allSettled(NEWS.map(ask)))
    const touched = Object.keys(ASKED_BY).filter((name) => ASKED_BY[name]?.some((kind) => kinds?.includes(kind)))
    await Promise.allSettled(kinds ? [...touched, ...ASKED_BY_ALL].map(ask) : [ask()])
  }
}

export const useMe = () => useQuery({ key: ['me'], query: () => value(api.GET('/api/v1/me')) })

export const useProducts = () => useQuery({ key: ['products'], query: () => value(api.GET('/api/v1/products')) })

export const useCourse = (product: Of<number>) =>
  useQuery({
    key: () => ['course', toValue(product)],
    query: () => value(api.GET('/api/v1/course', { params: { query: { product: toValue(product) } } })),
    placeholderData: (before) => before,
  })

export const useStudyTemplates = () =>
  useQuery({ key: ['study-templates'], query: () => value(api.GET('/api/v1/listen/study-templates')) })

export const useStudy = (id: Of<number>) =>
  useQuery({
    key: () => ['study', toValue(id)],
    query: () => value(api.GET('/api/v1/listen/studies/{id}', { params: { path: { id: toValue(id) } } })),
  })

export const useChannels = (product: Of<number>) =>
  useQuery({
    key: () => ['channels', toValue(product)],
    query: () => value(api.GET('/api/v1/listen/channels', { params: { query: { product: toValue(product) } } })),
  })

export const useUndoState = () => useQuery({ key: ['undo'], query: () => value(api.GET('/api/v1/undo')) })

export const useTrace = (thing: Of<Thing | undefined>) =>
  useQuery({
    key: () => ['trace', toValue(thing)?.kind ?? '', toValue(thing)?.id ?? 0],
    query: () => {
      const { kind, id } = toValue(thing) as Thing
      return value(api.GET('/api/v1/trace/{kind}/{id}', { params: { path: { kind, id } } }))
    },
    enabled: () => toValue(thing) !== undefined,
  })

export const useHistory = (thing: Of<Thing | undefined>) =>
  useQuery({
    key: () => ['history', toValue(thing)?.kind ?? '', toValue(thing)?.id ?? 0],
    query: () => {
      const { kind, id } = toValue(thing) as Thing
      return value(api.GET('/api/v1/history/{kind}/{id}', { params: { path: { kind, id } } }))
    },
    enabled: () => toValue(thing) !== undefined,
  })

export const useItem = (id: Of<number | undefined>) =>
  useQuery({
    key: () => ['item', toValue(id) ?? 0],
    query: () => value(api.GET('/api/v1/listen/items/{id}', { params: { path: { id: toValue(id) as number } } })),
    enabled: () => toValue(id) !== undefined,
    placeholderData: (before) => before,
  })

/** People or accounts that may be the same. */
export const useLikelySame = (kind: Of<'person' | 'account'>) =>
  useQuery({
    key: () => ['likely-same', toValue(kind)],
    query: () => value(api.GET('/api/v1/listen/likely-same', { params: { query: { kind: toValue(kind) } } })),
  })

/** The newest jobs of a product. */
export const useJobs = (product: Of<number>) =>
  useQuery({
    key: () => ['jobs', toValue(product)],
    query: () => value(api.GET('/api/v1/jobs', { params: { query: { product: toValue(product) } } })),
    placeholderData: (before) => before,
  })

/** A job with its report. */
export const useJob = (id: Of<number | undefined>) =>
  useQuery({
    key: () => ['jobs', 'one', toValue(id) ?? 0],
    query: () => value(api.GET('/api/v1/jobs/{id}', { params: { path: { id: toValue(id) as number } } })),
    enabled: () => toValue(id) !== undefined,
  })

/** What came of files that were brought in by a job. */
export const useBroughtIn = (id: Of<number>) =>
  useQuery({
    key: () => ['brought-in', toValue(id)],
    query: () => value(api.GET('/api/v1/listen/imports/{id}', { params: { path: { id: toValue(id) } } })),
  })

export const useFindings = (product: Of<number>) =>
  useQuery({
    key: () => ['findings', toValue(product)],
    query: () => value(api.GET('/api/v1/listen/findings', { params: { query: { product: toValue(product) } } })),
  })

/** The newest excerpts behind a finding, of those that are asked for; the last answer stays while more are on their way. */
export const useFindingExcerpts = (
  id: Of<number>,
  filter: Of<Omit<FindingExcerptsAsk, 'after' | 'limit'>>,
  limit: Of<number>,
) =>
  useQuery({
    key: () => ['finding-excerpts', toValue(id), JSON.stringify(toValue(filter)), toValue(limit)],
    query: () =>
      value(
        api.GET('/api/v1/listen/findings/{id}/excerpts', {
          params: { path: { id: toValue(id) }, query: { ...toValue(filter), limit: toValue(limit) } },
        }),
      ),
    placeholderData: (before) => before,
  })

/** Pictures of a finding, and what they leave open. */
export const useFindingPicture = (id: Of<number>) =>
  useQuery({
    key: () => ['finding-picture', toValue(id)],
    query: () => value(api.GET('/api/v1/listen/findings/{id}/picture', { params: { path: { id: toValue(id) } } })),
    placeholderData: (before) => before,
  })

/** All that was said within days: by source, segment, product and over time, and what moves. */
export const useSaidOverview = (
  product: Of<number>,
  asked: Of<{ from?: string; to?: string; source?: number; segment?: string }>,
) =>
  useQuery({
    key: () => ['said-overview', toValue(product), JSON.stringify(toValue(asked))],
    query: () => {
      const { from, to, source, segment } = toValue(asked)
      const query = { product: toValue(product), from, to, source, segment }
      return value(api.GET('/api/v1/listen/overview', { params: { query } }))
    },
    placeholderData: (before) => before,
  })

/** A research report of chosen findings. */
export const useReport = (asked: Of<ReportAsk>, enabled: Of<boolean>) =>
  useQuery({
    key: () => ['report', JSON.stringify(toValue(asked))],
    query: () => value(api.GET('/api/v1/listen/report', { params: { query: toValue(asked) } })),
    enabled: () => toValue(enabled),
    placeholderData: (before) => before,
  })

/** The narrower groups that a finding opens into. */
export const useNarrower = (id: Of<number>) =>
  useQuery({
    key: () => ['narrower', toValue(id)],
    query: () => value(api.GET('/api/v1/listen/findings/{id}/narrower', { params: { path: { id: toValue(id) } } })),
  })

/** What people said that answers a question. */
export const useEvidence = (product: Of<number>, question: Of<string>) =>
  useQuery({
    key: () => ['evidence', toValue(product), toValue(question)],
    query: () =>
      value(
        api.GET('/api/v1/listen/evidence', {
          params: { query: { product: toValue(product), question: toValue(question) } },
        }),
      ),
    enabled: () => toValue(question).trim().length > 3,
  })

/** What can be checked next of what the engine told. */
export const useToCheck = (product: Of<number>, about: Of<Schemas['CheckAbout']>, way: Of<Schemas['CheckWay']>) =>
  useQuery({
    key: () => ['to-check', toValue(product), toValue(about), toValue(way)],
    query: () =>
      value(
        api.GET('/api/v1/listen/checks', {
          params: { query: { product: toValue(product), about: toValue(about), way: toValue(way) } },
        }),
      ),
  })

/** How far the engine and people agree. */
export const useAgreements = (product: Of<number>) =>
  useQuery({
    key: () => ['agreements', toValue(product)],
    query: () => value(api.GET('/api/v1/listen/agreement', { params: { query: { product: toValue(product) } } })),
  })

/** The newest runs of the grouping. */
export const useRuns = (product: Of<number>) =>
  useQuery({
    key: () => ['runs', toValue(product)],
    query: () => value(api.GET('/api/v1/listen/runs', { params: { query: { product: toValue(product) } } })),
    placeholderData: (before) => before,
  })

/** A run, and all that it would change. */
export const useRun = (id: Of<number | undefined>) =>
  useQuery({
    key: () => ['run', toValue(id) ?? 0],
    query: () => value(api.GET('/api/v1/listen/runs/{id}', { params: { path: { id: toValue(id) as number } } })),
    enabled: () => toValue(id) !== undefined,
  })

/** The objectives of a product, and how each comes along. */
export const useObjectives = (product: Of<number>) =>
  useQuery({
    key: () => ['objectives', toValue(product)],
    query: () => value(api.GET('/api/v1/decide/objectives', { params: { query: { product: toValue(product) } } })),
    placeholderData: (before) => before,
  })

/** One objective with all that is known of it. */
export const useObjective = (id: Of<number>) =>
  useQuery({
    key: () => ['objective', toValue(id)],
    query: () => value(api.GET('/api/v1/decide/objectives/{id}', { params: { path: { id: toValue(id) } } })),
  })

/** The objectives that a thing serves, each with how much. */
export const useServes = (thing: Of<Thing>) =>
  useQuery({
    key: () => ['serves', toValue(thing).kind, toValue(thing).id],
    query: () => {
      const { kind, id } = toValue(thing)
      return value(api.GET('/api/v1/decide/serves/{kind}/{id}', { params: { path: { kind, id } } }))
    },
  })

/** One idea with all that is known of it. */
export const useIdea = (id: Of<number>) =>
  useQuery({
    key: () => ['idea', toValue(id)],
    query: () => value(api.GET('/api/v1/decide/ideas/{id}', { params: { path: { id: toValue(id) } } })),
  })

/** What a product's ideas can be scored by. */
export const useModels = (product: Of<number>) =>
  useQuery({
    key: () => ['models', toValue(product)],
    query: () => value(api.GET('/api/v1/decide/models', { params: { query: { product: toValue(product) } } })),
  })

type ScoresAsk = Schemas['ScoresAsk']

/** Where each idea may lie by a model. Nothing is asked without one. */
export const useScores = (ask: Of<ScoresAsk | undefined>) =>
  useQuery({
    key: () => ['scores', JSON.stringify(toValue(ask) ?? null)],
    query: () => value(api.POST('/api/v1/decide/scores', { body: toValue(ask) as ScoresAsk })),
    enabled: () => toValue(ask) !== undefined,
    placeholderData: (before) => before,
  })

/** Why an idea stands where it stands. */
export const useWhy = (ask: Of<Schemas['WhyAsk']>) =>
  useQuery({
    key: () => ['why', JSON.stringify(toValue(ask))],
    query: () => value(api.POST('/api/v1/decide/scores/why', { body: toValue(ask) })),
  })

/** What a budget affords. */
export const useBudget = (ask: Of<Schemas['AffordAsk']>) =>
  useQuery({
    key: () => ['budget', JSON.stringify(toValue(ask))],
    query: () => value(api.POST('/api/v1/decide/budget', { body: toValue(ask) })),
    placeholderData: (before) => before,
  })

/** What people estimate of an idea. */
export const useEstimates = (id: Of<number>, model: Of<string | undefined>) =>
  useQuery({
    key: () => ['estimates', toValue(id), toValue(model) ?? ''],
    query: () => {
      const params = { path: { id: toValue(id) }, query: { model: toValue(model) } }
      return value(api.GET('/api/v1/decide/ideas/{id}/estimates', { params }))
    },
  })

/** What was decided, those to look at again first. */
export const useDecisions = (product: Of<number>) =>
  useQuery({
    key: () => ['decisions', toValue(product)],
    query: () => value(api.GET('/api/v1/decide/decisions', { params: { query: { product: toValue(product) } } })),
  })

export const usePrioritisations = (product: Of<number>) =>
  useQuery({
    key: () => ['prioritisations', toValue(product)],
    query: () => value(api.GET('/api/v1/decide/prioritisations', { params: { query: { product: toValue(product) } } })),
  })

/** A prioritisation with its report. */
export const usePrioritisation = (id: Of<number | undefined>) =>
  useQuery({
    key: () => ['prioritisation', toValue(id) ?? 0],
    query: () =>
      value(api.GET('/api/v1/decide/prioritisations/{id}', { params: { path: { id: toValue(id) as number } } })),
    enabled: () => toValue(id) !== undefined,
  })

/** Who else offers people a way, and how offers compare. */
export const useMarket = (product: Of<number>) =>
  useQuery({
    key: () => ['market', toValue(product)],
    query: () => value(api.GET('/api/v1/decide/market', { params: { query: { product: toValue(product) } } })),
  })

/** A page of somebody else's with its text. */
export const useFoundPage = (id: Of<number>) =>
  useQuery({
    key: () => ['found-page', toValue(id)],
    query: () => value(api.GET('/api/v1/decide/market/pages/{id}', { params: { path: { id: toValue(id) } } })),
  })

/** A request form with its questions. */
export const useForm = (id: Of<number>) =>
  useQuery({
    key: () => ['form', toValue(id)],
    query: () => value(api.GET('/api/v1/decide/forms/{id}', { params: { path: { id: toValue(id) } } })),
  })

/** Ideas of a product that may be the same. */
export const useLikelySameIdeas = (product: Of<number>) =>
  useQuery({
    key: () => ['likely-same-ideas', toValue(product)],
    query: () =>
      value(api.GET('/api/v1/decide/ideas/likely-same', { params: { query: { product: toValue(product) } } })),
  })

export const useBoard = (product: Of<number>) =>
  useQuery({
    key: () => ['board', toValue(product)],
    query: () => value(api.GET('/api/v1/specify/board', { params: { query: { product: toValue(product) } } })),
  })

/** The acceptance criteria and the ready check of one story. */
export const useStory = (id: Of<number>) =>
  useQuery({
    key: () => ['story', toValue(id)],
    query: () => value(api.GET('/api/v1/specify/stories/{id}', { params: { path: { id: toValue(id) } } })),
  })

export const useBackbone = (product: Of<number>) =>
  useQuery({
    key: () => ['backbone', toValue(product)],
    query: () => value(api.GET('/api/v1/map/backbone', { params: { query: { product: toValue(product) } } })),
  })

export const useReleases = (product: Of<number>) =>
  useQuery({
    key: () => ['releases', toValue(product)],
    query: () => value(api.GET('/api/v1/plan/releases', { params: { query: { product: toValue(product) } } })),
  })

export const useTeams = () => useQuery({ key: ['teams'], query: () => value(api.GET('/api/v1/handover/teams')) })

export const useQueue = (team: Of<number | undefined>) =>
  useQuery({
    key: () => ['queue', toValue(team) ?? 0],
    query: () =>
      value(api.GET('/api/v1/handover/teams/{id}/queue', { params: { path: { id: toValue(team) as number } } })),
    enabled: () => toValue(team) !== undefined,
  })

export const useRoadmap = (product: Of<number>) =>
  useQuery({
    key: () => ['roadmap', toValue(product)],
    query: () => value(api.GET('/api/v1/handover/roadmap', { params: { query: { product: toValue(product) } } })),
  })

export const useLearned = (product: Of<number>) =>
  useQuery({
    key: () => ['learned', toValue(product)],
    query: () => value(api.GET('/api/v1/learn', { params: { query: { product: toValue(product) } } })),
  })
