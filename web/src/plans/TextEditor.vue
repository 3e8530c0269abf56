<script setup lang="ts">
// A plan as text, with what is wrong at its lines as it is typed.
import { autocompletion, type CompletionContext } from '@codemirror/autocomplete'
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language'
import { toml } from '@codemirror/legacy-modes/mode/toml'
import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint'
import { EditorState, Prec } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import { basicSetup } from 'codemirror'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import { say } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ text: string; faults: Schemas['Fault'][]; line?: number }>()
const emit = defineEmits<{ type: [text: string] }>()
const home = ref<HTMLElement>()
let view: EditorView | undefined

/** What can be written in a table; the reader of plans says so itself where it meets another word. */
const KEYS = [
  'id',
  'name',
  'about',
  'fastener',
  'thread',
  'strength',
  'yield',
  'tensile',
  'bearing_diameter',
  'thread_lubricant',
  'bearing_lubricant',
  'single_use',
  'to_yield',
  'source',
  'drawing',
  'seen',
  'shape',
  'group',
  'pattern',
  'position',
  'row',
  'hole',
  'procedure',
  'tolerance',
  'angle_tolerance',
  'stage',
  'torque',
  'angle',
  'torque-angle',
  'stretch',
  'castellated',
  'recheck',
  'loosen',
  'action',
  'wait',
  'seal',
  'within',
  'cure',
  'run-down',
  'stud',
  'range',
  'steps',
  'percent',
  'preset',
  'settle',
  'again',
  'walk',
  'school',
  'slot',
  'count',
  'members',
  'uses_allowed',
  'site',
  'form',
  'planes',
  'angles',
  'plausible',
  'part',
  'clearance',
  'plus',
  'minus',
  'least',
  'window',
  'per_bore',
  'filed',
  'shell',
  'operation',
  'kind',
  'needs',
  'cautions',
  'item',
  'text',
  'right',
  'wrong',
  'joint',
  'joints',
  'stages',
  'purpose',
  'sites',
  'slots',
  'suspect',
  'most',
  'rise',
  'by',
  'order',
  'signature',
  'step',
  'parts',
  'closes',
  'stand',
]
function complete(context: CompletionContext) {
  const quoted = context.matchBefore(/"[\w-]*/)
  if (quoted) {
    // Keys that the plan gives to its parts.
    const ids = [
      ...new Set(
        [...context.state.doc.toString().matchAll(/(?:^|\n)\s*(?:\{\s*)?id = "([\w#*-]+)"/g)].map((found) => found[1]!),
      ),
    ]
    return { from: quoted.from + 1, options: ids.map((label) => ({ label, type: 'variable' })) }
  }
  const word = context.matchBefore(/^\s*[\w-]+/)
  if (!word && !context.explicit) return null
  const from = word ? word.from + (/^\s*/.exec(word.text)?.[0].length ?? 0) : context.pos
  return { from, options: KEYS.map((label) => ({ label, type: 'property', apply: `${label} = ` })) }
}
const look = EditorView.theme({
  '&': { height: '100%', fontSize: '0.95rem', background: 'var(--face)', color: 'var(--ink)' },
  '.cm-scroller': { fontFamily: 'ui-monospace, monospace', lineHeight: '1.45' },
  '.cm-gutters': { background: 'var(--plate)', color: 'var(--dim)', border: 'none' },
  '.cm-activeLine, .cm-activeLineGutter': { background: 'color-mix(in srgb, var(--layout) 9%, transparent)' },
  '&.cm-focused .cm-cursor': { borderLeftColor: 'var(--ink)' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': {
    background: 'color-mix(in srgb, var(--layout) 30%, transparent) !important',
  },
  '.cm-tooltip': { background: 'var(--face)', color: 'var(--ink)', border: '1px solid var(--ink)' },
})
/** The inks of a drawing, light or dark as the page is. */
const inks = HighlightStyle.define([
  { tag: tags.comment, color: 'var(--dim)', fontStyle: 'italic' },
  { tag: [tags.atom, tags.keyword, tags.typeName], color: 'var(--layout)', fontWeight: '600' },
  { tag: [tags.string, tags.number], color: 'var(--layout)' },
  { tag: tags.propertyName, color: 'var(--ink)' },
])

function mark() {
  if (!view) return
  const { doc } = view.state
  const diagnostics: Diagnostic[] = props.faults.slice(0, 200).map((fault) => {
    const line = doc.line(Math.min(Math.max(1, fault.line), doc.lines))
    const lead = /^\s*/.exec(line.text)?.[0].length ?? 0
    return {
      from: Math.min(line.from + lead, line.to),
      to: line.to,
      severity: fault.severity,
      message: say(fault.message),
    }
  })
  view.dispatch(setDiagnostics(view.state, diagnostics))
  home.value?.setAttribute('data-marked', String(diagnostics.length))
}
onMounted(() => {
  const told = EditorView.updateListener.of((update) => {
    if (update.docChanged && !update.transactions.some((of) => of.isUserEvent('from.outside')))
      emit('type', update.state.doc.toString())
  })
  const extensions = [
    Prec.high(syntaxHighlighting(inks)),
    basicSetup,
    StreamLanguage.define(toml),
    lintGutter(),
    autocompletion({ override: [complete] }),
    look,
    told,
    EditorView.contentAttributes.of({ 'aria-label': t('plans-text-of-the-plan') }),
  ]
  view = new EditorView({ state: EditorState.create({ doc: props.text, extensions }), parent: home.value! })
  mark()
  if (props.line) go(props.line)
})
onBeforeUnmount(() => view?.destroy())
watch(
  () => props.text,
  (text) => {
    // What was typed here comes back as it is; what came from elsewhere is put in where it differs.
    if (!view || text === view.state.doc.toString()) return
    const now = view.state.doc.toString()
    let from = 0
    while (from < now.length && from < text.length && now[from] === text[from]) from++
    let [end, other] = [now.length, text.length]
    while (end > from && other > from && now[end - 1] === text[other - 1]) [end, other] = [end - 1, other - 1]
    view.dispatch({ changes: { from, to: end, insert: text.slice(from, other) }, userEvent: 'from.outside' })
  },
)
watch(() => props.faults, mark)
function go(line: number) {
  if (!view) return
  const at = view.state.doc.line(Math.min(Math.max(1, line), view.state.doc.lines))
  view.dispatch({ selection: { anchor: at.from }, effects: EditorView.scrollIntoView(at.from, { y: 'center' }) })
  view.focus()
}
defineExpose({ go })
</script>

<template>
  <div ref="home" class="h-[70dvh] border border-ink" data-test="text-editor" />
</template>
