<script setup lang="ts">
// The life of one part or set across engines: whether each piece may go on, and what it went through (C-16, C-23,
// C-25).
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, take, type Schemas } from '../api/client'
import { digits, say, unitOf, when } from '../ui/units'
import ScrollBox from '../ui/ScrollBox.vue'
import LifePicture from './LifePicture.vue'
import RemarkDialog from './RemarkDialog.vue'
import { usePageTitle } from '../ui/pageTitle'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

type Piece = Schemas['PieceHistory']
const route = useRoute()
const serial = computed(() => String(route.params.serial))
const { data, error, refetch } = useQuery({
  queryKey: ['part', serial],
  queryFn: async () => take(await api.GET('/api/parts/{serial}', { params: { path: { serial: serial.value } } })),
})
const remarking = ref<{ history: Schemas['PartHistory']; piece: Piece } | null>(null)
const verdicts = {
  good: { mark: '✓', words: t('parts-yes') },
  'last-time': { mark: '◇', words: t('parts-once-more') },
  scrap: { mark: '▲', words: t('parts-scrap') },
} as const
const kinds = {
  finding: t('parts-was-found'),
  reconditioned: t('parts-was-reconditioned'),
  scrapped: t('parts-was-scrapped'),
} as const
const conditions = { new: t('common-new'), used: t('common-used'), reworked: t('common-used-and-machined') } as const

/** Its pieces, or the part itself where it is no set. */
const pieces = (history: Schemas['PartHistory']) =>
  history.pieces.filter((piece) => piece.piece > 0 || history.pieces.length === 1)
const whole = (history: Schemas['PartHistory']) => history.pieces.find((piece) => piece.piece === 0)
const measured = (history: Schemas['PartHistory']) =>
  pieces(history).some((piece) => piece.lived.some((lived) => lived.life.free_mm || lived.life.stretch_mm))
const length = (mm: number | null | undefined, dimension: 'length' | 'clearance' = 'clearance') =>
  mm == null ? '' : digits(mm, dimension)
/** What was said of the part and of its pieces, the last first. */
const remarks = (history: Schemas['PartHistory']) =>
  history.pieces
    .flatMap((piece) =>
      piece.lived.flatMap(({ engine, life }) =>
        life.remarks.map((remark) => ({ ...remark, engine, name: piece.piece ? life.name : '' })),
      ),
    )
    .sort((a, b) => b.at.localeCompare(a.at))
usePageTitle(() => t('parts-part', { serial: serial.value }))
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <RouterLink to="/parts" class="way-back">{{ t('common-parts') }}</RouterLink>
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">
      {{ data?.[0]?.serial ?? serial }}
    </h1>
    <p v-if="error && !data" role="alert" class="py-8 text-lg">{{ error.message }}</p>
    <LoadingText v-else-if="!data" />
    <section v-for="history in data" :key="history.kind" class="mt-5" :aria-label="whole(history)?.name">
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2 class="text-2xl font-semibold">{{ whole(history)?.name ?? history.pieces[0]?.name }}</h2>
        <button
          class="quiet-key py-1"
          data-test="remark"
          @click="remarking = { history, piece: whole(history) ?? history.pieces[0]! }"
        >
          {{ t('parts-add-note') }}
        </button>
      </div>
      <ol class="mt-1">
        <li v-for="lived in whole(history)?.lived" :key="lived.build" class="border-b border-rule py-1">
          <RouterLink :to="`/engines/${lived.build}`" class="font-semibold underline-offset-4 hover:underline">{{
            lived.engine
          }}</RouterLink><span class="text-dim"
            >{{ t('parts-logged-in', { time: when(lived.life.at), conditions: conditions[lived.life.condition] })
            }}<template v-if="lived.life.uses_said">{{
              t('parts-previous-engines-stated', { uses_said: lived.life.uses_said })
            }}</template
            ><template v-if="lived.life.machining">; {{ lived.life.machining }}</template
            ><template v-if="lived.life.batch">{{ t('parts-batch', { batch: lived.life.batch }) }}</template>
          </span>
        </li>
      </ol>
      <div class="mt-4 grid gap-x-10 gap-y-6" :class="measured(history) && 'lg:grid-cols-[minmax(0,1fr)_24rem]'">
        <ScrollBox class="self-start" :label="t('parts-pieces')">
          <table class="w-full">
            <caption class="sr-only">
              {{
                t('parts-pieces')
              }}
            </caption>
            <thead>
              <tr class="border-b border-ink text-left align-bottom">
                <th class="py-1 pr-3 font-semibold">
                  {{ history.pieces.length > 1 ? t('parts-piece') : t('common-part') }}
                </th>
                <th class="py-1 pr-3 font-semibold">{{ t('parts-reusable') }}</th>
                <th class="py-1 pr-3 text-right font-semibold">{{ t('parts-uses') }}</th>
                <template v-if="measured(history)">
                  <th class="py-1 pr-3 text-right font-semibold max-sm:hidden">
                    {{ t('parts-free', { unit: unitOf('length') }) }}
                  </th>
                  <th class="py-1 pr-3 text-right font-semibold">{{ t('parts-permanent-stretch-2') }}</th>
                  <th class="py-1 text-right font-semibold max-sm:hidden">{{ t('parts-stretch') }}</th>
                </template>
              </tr>
            </thead>
            <tbody>
              <tr
                v-for="piece in pieces(history)"
                :key="piece.piece"
                class="border-b border-rule align-baseline"
                :data-test="`piece-${piece.piece}`"
                :data-verdict="piece.verdict"
              >
                <th scope="row" class="py-1.5 pr-3 text-left font-semibold whitespace-nowrap">
                  <button class="text-left underline-offset-4 hover:underline" @click="remarking = { history, piece }">
                    <template v-if="piece.piece"
                      >{{ piece.piece }} <span class="font-normal text-dim">{{ piece.name }}</span></template
                    >
                    <template v-else>{{ piece.name }}</template>
                  </button>
                </th>
                <td class="py-1.5 pr-3">
                  <span class="font-semibold" :class="piece.verdict === 'scrap' && 'text-wrong'">
                    <span aria-hidden="true">{{ verdicts[piece.verdict].mark }}</span>
                    {{ verdicts[piece.verdict].words }}
                  </span>
                  <span v-for="why in piece.why.map(say)" :key="why" class="block leading-snug">{{ why }}</span>
                  <span
                    v-for="why in piece.lived.flatMap((l) =>
                      l.life.replaced.map((reason) => `a new one since ${l.engine}: ${reason}`),
                    )"
                    :key="why"
                    class="block leading-snug text-dim"
                    >{{ why }}</span
                  >
                </td>
                <td class="py-1.5 pr-3 text-right whitespace-nowrap">
                  {{ piece.uses
                  }}<span v-if="piece.allowed != null" class="text-dim">
                    {{ ' ' }}{{ t('parts-of', { allowed: piece.allowed }) }}</span
                  >
                </td>
                <template v-if="measured(history)">
                  <td class="py-1.5 pr-3 text-right max-sm:hidden">
                    {{ length(piece.lived.findLast((l) => l.life.free_mm)?.life.free_mm, 'length') }}
                  </td>
                  <td
                    class="py-1.5 pr-3 text-right"
                    :class="piece.verdict === 'scrap' && (piece.grown_mm ?? 0) > 0 && 'font-semibold text-wrong'"
                  >
                    {{ length(piece.grown_mm) }}
                  </td>
                  <td class="py-1.5 text-right max-sm:hidden">
                    {{ length(piece.lived.findLast((l) => l.life.stretch_mm)?.life.stretch_mm) }}
                  </td>
                </template>
              </tr>
            </tbody>
          </table>
        </ScrollBox>
        <LifePicture v-if="measured(history)" :history="history" />
      </div>
      <ul v-if="remarks(history).length" class="mt-5" :aria-label="t('parts-notes')">
        <li
          v-for="remark in remarks(history)"
          :key="`${remark.engine}${remark.seq}`"
          class="border-l-4 py-0.5 pl-3"
          :class="remark.kind === 'scrapped' ? 'border-wrong' : 'border-rule'"
        >
          <span class="font-semibold"
            >{{ remark.name ? `${remark.name}: ` : '' }}{{ kinds[remark.kind] }}, {{ remark.text }}</span
          >
          <span class="text-dim">
            {{ ' ' }}{{ t('parts-with', { by: remark.by, time: when(remark.at), engine: remark.engine }) }}</span
          >
        </li>
      </ul>
      <p v-if="history.pieces.some((p) => p.grown_mm != null)" class="mt-3 text-dim">
        {{ t('parts-permanent-stretch-free-length-against-the', { unit: unitOf('clearance') }) }}
      </p>
    </section>
    <RemarkDialog
      v-if="remarking"
      :history="remarking.history"
      :piece="remarking.piece"
      @close="remarking = null"
      @said="refetch()"
    />
  </main>
</template>
