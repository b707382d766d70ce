import {
  type Circuit,
  circuitEdit,
  insideOf,
  useOf,
  withBlockEdit,
  type EditCall,
  type Failure,
  type OperatingReport,
  patched,
  pieceOf,
  readyBlock,
  readyCircuits,
  type Spot,
  spotAt,
  tipAfter,
  type TypedValue,
  validTip,
  VoskelError,
  withCircuitEdit,
  withDrawnCircuit,
  withSourceNamed,
} from '@voskel/core'
import { ElMessage } from 'element-plus'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { type Chosen, NOTHING_CHOSEN } from '../circuit/hit'
import { arrangeTopic } from '../engine/jobs/arrange'
import { netlistTopic } from '../engine/jobs/netlist'
import { operatingPointTopic } from '../engine/jobs/operatingPoint'
import { lanes } from '../engine/lanes'
import { useDesignStore } from './design'
import { useResultsStore } from './results'

/** What is copied is told as JSON with this mark, so that other texts are told from it. */
const PIECE = 'voskel-piece'

/** The sheet of the open design: its tip, what is chosen, and what is done to the circuit there. */
export const useSheetStore = defineStore('sheet', () => {
  const design = useDesignStore()
  const results = useResultsStore()

  /** The drawn circuit, or the computed one with what is said of its parts now. */
  const whole = computed((): Circuit | null => {
    const own = design.document?.circuit
    if (!own) return null
    if (own.origin === 'drawn') return own.circuit
    const base = results.circuit?.base ?? (results.isEmpty ? own.witness : undefined)
    return base ? patched(base, own.patches).circuit : null
  })

  /** The block that is open on the sheet. */
  const opened = ref<string | null>(null)
  const inside = computed(() =>
    opened.value !== null && whole.value && Object.hasOwn(whole.value.subcircuits ?? {}, opened.value)
      ? opened.value
      : null,
  )
  /** What lies on the sheet: the circuit, or the inside of a block. */
  const circuit = computed(() =>
    whole.value && inside.value !== null ? insideOf(whole.value, inside.value) : whole.value,
  )

  function openBlock(block: string | null) {
    opened.value = block
    chosen.value = NOTHING_CHOSEN
    place.value = null
    isDetailed.value = false
  }

  const chosen = shallowRef<Chosen>(NOTHING_CHOSEN)
  const place = shallowRef<Spot | null>(null)
  /** Where the tip was, to find what lies there when its place is gone. */
  let was = { x: 0, y: 0 }
  const tip = computed((): Spot => {
    if (!circuit.value) return { at: was }
    return place.value ? validTip(circuit.value, place.value, was) : firstTip(circuit.value)
  })
  const isDetailed = ref(false)
  /** A layer over the drawing. */
  const layer = ref<'none' | 'operating-point' | 'influence' | 'sections'>('none')
  const rest = shallowRef<OperatingReport | null>(null)
  const restFailure = ref<string | null>(null)
  /** The requirement whose influences are shown; null where the worst is. */
  const weighed = ref<string | null>(null)

  const wantsRest = computed(() => layer.value === 'operating-point' || below.value === 'operating-point')
  /** What stands below the sheet. */
  const below = ref<'parts' | 'parameters' | 'models' | 'operating-point' | 'study' | 'netlist' | null>(null)

  watch(
    () => design.id,
    () => {
      openBlock(null)
    },
  )

  watch(
    [wantsRest, () => design.document],
    async ([wants, document]) => {
      if (!wants || !document) return
      const outcome = await lanes.trace.ask(operatingPointTopic, document)
      if (outcome.kind === 'superseded' || outcome.kind === 'stopped' || document !== design.document) return
      rest.value = outcome.kind === 'done' ? outcome.answer : null
      restFailure.value = outcome.kind === 'failed' ? `${outcome.failure.message} ${outcome.failure.remedy}` : null
    },
    { immediate: true },
  )

  function moveTip(spot: Spot) {
    place.value = spot
    if ('at' in spot) was = spot.at
  }

  /**
   * Does something to the circuit, as one step to be undone; says why where that cannot be.
   *
   * @param goesOn the tip goes on to a part that comes
   * @param group steps that belong together are undone together
   */
  function act(call: EditCall, goesOn = false, group: string | null = null): boolean {
    const { document } = design
    const before = circuit.value
    if (!document) return false
    try {
      const block = inside.value
      const next = block === null ? withCircuitEdit(document, call) : withBlockEdit(document, block, call)
      const at = tip.value
      const { label } = circuitEdit(call)
      design.edit(block === null ? label : `${label}, in ${block}`, next, group)
      const after = circuit.value
      if (before && after) place.value = tipAfter(before, after, at, goesOn)
      return true
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      ElMessage.error(`${error.message} ${error.remedy}`)
      return false
    }
  }

  function setValue(part: string, field: string, { value, formula }: TypedValue) {
    act(
      formula === undefined
        ? { edit: 'set-value', args: { part, field, value } }
        : { edit: 'set-formula', args: { part, field, formula } },
    )
  }

  /** A hand turns or throws a part; what belongs to one turn is one step. */
  function turn(part: string, field: string, value: number, group: string) {
    act({ edit: 'set-value', args: { part, field, value } }, false, group)
  }

  /** What is chosen as a text that can be put in elsewhere; null where nothing is. */
  function copied(): string | null {
    if (!circuit.value || chosen.value.parts.size + chosen.value.notes.size === 0) return null
    const piece = pieceOf(circuit.value, chosen.value.parts, chosen.value.notes)
    return JSON.stringify({ format: PIECE, piece }, null, 1)
  }

  function removeChosen(close = true) {
    const { parts, wires, labels, notes } = chosen.value
    if (parts.size + wires.size + labels.size + notes.size === 0) return
    act({
      edit: 'remove-things',
      args: { parts: [...parts], wires: [...wires], labels: [...labels], notes: [...notes], close },
    })
    chosen.value = NOTHING_CHOSEN
  }

  /** A block is being made of what is chosen: its name is asked. */
  const isNaming = ref(false)

  function makeBlock(name: string) {
    if (!act({ edit: 'make-block', args: { parts: [...chosen.value.parts], name } })) return
    isNaming.value = false
    chosen.value = NOTHING_CHOSEN
  }

  /** A block once more, at a place or beside everything. */
  function putBlock(block: string, at?: { x: number; y: number }) {
    if (!circuit.value) return
    const part = useOf(circuit.value, block)
    const low = circuit.value.parts.reduce((most, p) => Math.max(most, p.at?.y ?? 0), 0)
    act({ edit: 'put-part', args: { part, at: { ...(at ?? { x: 0, y: low + 12 }), rotation: 0 } } })
  }

  /** A ready circuit as a block, beside everything. */
  function putReady(id: string) {
    const ready = readyCircuits.find((r) => r.id === id)
    if (ready) takePiece(readyBlock(ready))
  }

  /** A model of another design for a part, as one step. */
  function takeModel(part: string, piece: Circuit) {
    const group = `model of ${part} ${Date.now()}`
    if (!act({ edit: 'paste-things', args: { piece } } as EditCall, false, group)) return
    // It may have come under another name, where its own was taken.
    const [wanted] = Object.values(piece.models ?? {}).map((m) => JSON.stringify(m))
    const name = Object.entries(circuit.value?.models ?? {}).find(([, m]) => JSON.stringify(m) === wanted)?.[0]
    if (name !== undefined) act({ edit: 'set-properties', args: { parts: [part], say: { model: name } } }, false, group)
  }

  /** Nothing is drawn yet but what a blank sheet begins with. */
  const isBlank = computed(
    () =>
      design.document?.circuit.origin === 'drawn' &&
      inside.value === null &&
      (circuit.value?.parts.filter((p) => p.kind !== 'ground').length ?? 0) <= 1,
  )

  /** A netlist that was pasted and cannot be read as a whole: to be looked at before it is drawn. */
  const pasted = ref<string | null>(null)

  /** Puts a copied piece in, or a netlist, drawn; any other text is said to be neither and changes nothing. */
  async function paste(text: string) {
    const piece = pieceIn(text)
    if (piece !== undefined) return takePiece(piece)
    const { document } = design
    if (text.trim() !== '') {
      const outcome = await lanes.trace.ask(netlistTopic, text)
      // Meanwhile something else may have come.
      if (outcome.kind !== 'done' || document !== design.document) return
      const { circuit: read, problems } = outcome.answer
      const { models = {}, subcircuits = {} } = read
      const tables = [...Object.keys(models), ...Object.keys(subcircuits)]
      if (read.parts.length > 0 && problems.length > 0) {
        pasted.value = text
        return
      }
      if (read.parts.length > 0) return takeNetlist(read)
      if (tables.length > 0) {
        if (!takePiece(read)) return
        // There they are kept for the project, or for all.
        below.value = 'models'
        const names = `Read, to be used by parts: ${tables.slice(0, MOST_TOLD).join(', ')}.`
        if (problems.length === 0) ElMessage.success(names)
        else ElMessage.warning({ message: `${names} ${problemsText(problems)}`, duration: 15_000, showClose: true })
        return
      }
    }
    ElMessage.warning(
      'The clipboard holds neither a piece of a circuit nor a netlist. Copy parts from a sheet, or the text of a netlist.',
    )
  }

  /** A netlist that was read and drawn: on a blank sheet it is the circuit, else it comes beside what is there. */
  function takeNetlist(read: Circuit) {
    pasted.value = null
    const { document } = design
    if (!document) return
    if (isBlank.value) design.edit('netlist drawn', withSourceNamed(withDrawnCircuit(document, read)))
    else takePiece(read)
  }

  /** Lays the whole drawing out anew. */
  async function arrange() {
    const { document } = design
    if (!document || !circuit.value || inside.value !== null) return
    const { input, output } = document.study ?? {}
    const question = {
      circuit: circuit.value,
      ...(input !== undefined && { input }),
      ...(output !== undefined && { output }),
    }
    const outcome = await lanes.trace.ask(arrangeTopic, question)
    if (outcome.kind === 'done' && document === design.document)
      design.edit('drawn anew', withDrawnCircuit(document, outcome.answer))
  }

  function takePiece(piece: unknown): boolean {
    const before = new Set(circuit.value?.parts.map((p) => p.id))
    if (!act({ edit: 'paste-things', args: { piece } } as EditCall)) return false
    const come = circuit.value?.parts.filter((p) => !before.has(p.id)).map((p) => p.id) ?? []
    chosen.value = { ...NOTHING_CHOSEN, parts: new Set(come) }
    const given = (piece as Circuit).parts.map((p) => p.id)
    const renamed = come.flatMap((id, k) => (given[k] === id || given[k] === undefined ? [] : [`${given[k]} is ${id}`]))
    if (renamed.length > 0) ElMessage.info(`Names that were taken: ${renamed.slice(0, 8).join(', ')}.`)
    return true
  }

  function chooseAll() {
    if (!circuit.value) return
    const { parts, wires, labels, notes = [] } = circuit.value
    chosen.value = {
      parts: new Set(parts.map((p) => p.id)),
      wires: new Set(wires.map((w) => w.id)),
      labels: new Set(labels.map((l) => l.id)),
      notes: new Set(notes.map((n) => n.id)),
    }
  }

  return {
    circuit,
    whole,
    inside,
    openBlock,
    isNaming,
    makeBlock,
    putBlock,
    putReady,
    takePiece,
    takeModel,
    chosen,
    tip,
    isDetailed,
    below,
    layer,
    weighed,
    rest,
    restFailure,
    moveTip,
    act,
    setValue,
    turn,
    copied,
    isBlank,
    pasted,
    paste,
    takeNetlist,
    arrange,
    removeChosen,
    chooseAll,
  }
})

/** Names that a message lists, and problems. */
const MOST_TOLD = 12
const MOST_PROBLEMS = 4

/** What of a text could not be read, with its lines. */
function problemsText(problems: readonly Failure[]): string {
  const told = problems.slice(0, MOST_PROBLEMS).map(({ place, message }) => `Line ${place.line ?? 1}: ${message}`)
  const more = problems.length - told.length
  return `${told.join(' ')}${more > 0 ? ` And ${more} more.` : ''}`
}

/** A copied piece of a circuit; undefined in any other text. */
function pieceIn(text: string): unknown {
  try {
    const read = JSON.parse(text) as { format?: unknown; piece?: unknown }
    return read.format === PIECE ? read.piece : undefined
  } catch {
    return undefined
  }
}

/** Where a circuit begins to grow: at the name of its output, else of its input, else at a corner of the paper. */
function firstTip(circuit: Circuit): Spot {
  const named = circuit.labels.find((l) => l.name === 'out') ?? circuit.labels.find((l) => l.name === 'in')
  return named ? named.end : spotAt(circuit, { x: 0, y: 0 })
}
