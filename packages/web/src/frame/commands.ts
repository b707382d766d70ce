import type { Design } from '@voskel/core'
import { ElMessage } from 'element-plus'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { fileName, saveFile } from '../components/files'
import { BESIDE_CHOICES, stages } from '../stages'
import { useDesignStore } from '../stores/design'
import { useSheetStore } from '../stores/sheet'
import { useProjectsStore } from '../stores/projects'
import { useViewStore } from '../stores/view'
import { useWhatItIsStore, whatItIsText } from '../stores/whatItIs'

/** Something that can be done, by name or by key. */
export interface Command {
  id: string
  name: string
  /** As shown, and as `keyOf` names a key press. */
  keys?: string
  enabled?: () => boolean
  run: () => void
}

/** The key press as the commands name it: `Ctrl+K`, `?`, `Alt+1`. ⌘ counts as Ctrl. */
export function keyOf(event: KeyboardEvent): string {
  const control = event.ctrlKey || event.metaKey
  // With Alt some keyboards type another character on the digits.
  const digit = event.altKey ? /^Digit(\d)$/.exec(event.code ?? '')?.[1] : undefined
  const key = digit ?? (event.key.length === 1 && control ? event.key.toUpperCase() : event.key)
  return [control && 'Ctrl', event.altKey && 'Alt', control && event.shiftKey && 'Shift', key].filter(Boolean).join('+')
}

function saveDesign(document: Design | null) {
  if (document) saveFile(fileName(document.name, 'voskel.json'), JSON.stringify(document, null, 2))
}

/** Every command that a design page offers; the search, the keys and the shortcut sheet read this list. */
export function useCommands(open: { search: () => void; sheet: () => void; earlier: () => void }) {
  const router = useRouter()
  const design = useDesignStore()
  const view = useViewStore()
  const projects = useProjectsStore()
  const sheet = useSheetStore()
  const whatItIs = useWhatItIsStore()
  const go = (stage: string) => void router.push({ name: 'design', params: { id: design.id, stage } })
  return computed<Command[]>(() => [
    { id: 'search', name: 'Find a command', keys: 'Ctrl+K', run: open.search },
    { id: 'sheet', name: 'Show the keys', keys: '?', run: open.sheet },
    {
      id: 'undo',
      name: `Undo${design.past.length ? `: ${design.past.at(-1)!.label}` : ''}`,
      keys: 'Ctrl+Z',
      enabled: () => design.canUndo,
      run: design.undo,
    },
    {
      id: 'redo',
      name: `Redo${design.future.length ? `: ${design.future.at(-1)!.label}` : ''}`,
      keys: 'Ctrl+Y',
      enabled: () => design.canRedo,
      run: design.redo,
    },
    { id: 'redo-2', name: 'Redo', keys: 'Ctrl+Shift+Z', enabled: () => design.canRedo, run: design.redo },
    { id: 'save', name: 'Save now', keys: 'Ctrl+S', run: () => void design.flush() },
    ...sheetCommands(sheet),
    {
      id: 'arrange',
      name: 'Draw the circuit anew',
      enabled: () => sheet.circuit !== null,
      run: () => void sheet.arrange(),
    },
    { id: 'what-it-is', name: 'What is this? Response, order and approximation', run: () => void tell(whatItIs) },
    { id: 'earlier', name: 'Earlier states of this design', run: open.earlier },
    { id: 'file', name: 'Save the design as a file', run: () => saveDesign(design.document) },
    ...stages.map((s) => ({ id: `stage-${s.id}`, name: `Go to ${s.name}`, keys: s.key, run: () => go(s.id) })),
    ...BESIDE_CHOICES.map((s) => ({
      id: `beside-${s.id}`,
      name: `Show ${s.name} beside`,
      run: () => (view.beside = s.id),
    })),
    { id: 'beside-none', name: 'One stage alone', keys: 'Alt+0', run: () => (view.beside = null) },
    { id: 'light', name: 'Light appearance', run: () => (view.appearance = 'light') },
    { id: 'dark', name: 'Dark appearance', run: () => (view.appearance = 'dark') },
    { id: 'print', name: 'Print appearance', run: () => (view.appearance = 'print') },
    {
      id: 'resistors',
      name: view.resistors === 'box' ? 'Draw resistances as zigzags' : 'Draw resistances as boxes',
      run: () => (view.resistors = view.resistors === 'box' ? 'zigzag' : 'box'),
    },
    ...(projects.canSignOut ? [{ id: 'sign-out', name: 'Sign out', run: () => void projects.signOut() }] : []),
    { id: 'projects', name: 'Go to the projects', run: () => void router.push({ name: 'projects' }) },
  ])
}

/** ms for which a sentence with numbers stands. */
const READING = 12_000

async function tell(whatItIs: ReturnType<typeof useWhatItIsStore>) {
  if (!(await whatItIs.ask())) return
  const { answer, failure } = whatItIs
  if (failure) ElMessage.error({ message: `What it is cannot be said: ${failure}`, showClose: true })
  else
    ElMessage.info({
      message: answer ? `This is: ${whatItIsText(answer.recognised)}.` : 'There is no circuit yet.',
      duration: READING,
      showClose: true,
    })
}

/** What can be done to what is chosen on the sheet. */
function sheetCommands(sheet: ReturnType<typeof useSheetStore>): Command[] {
  const parts = () => [...sheet.chosen.parts]
  const some = () => parts().length > 0
  const several = () => parts().length > 1
  const align = (to: 'row' | 'column' | 'even-row' | 'even-column') => () =>
    void sheet.act({ edit: 'align-parts', args: { parts: parts(), to } })
  const turn = (by: 90 | 'mirror') => () => void sheet.act({ edit: 'turn-parts', args: { parts: parts(), turn: by } })
  return [
    { id: 'choose-all', name: 'Choose everything on the sheet', keys: 'Ctrl+A', run: sheet.chooseAll },
    { id: 'turn', name: 'Turn what is chosen', enabled: some, run: turn(90) },
    { id: 'mirror', name: 'Mirror what is chosen', enabled: some, run: turn('mirror') },
    { id: 'row', name: 'Put what is chosen in a row', enabled: several, run: align('row') },
    { id: 'column', name: 'Put what is chosen in a column', enabled: several, run: align('column') },
    { id: 'even-row', name: 'Space what is chosen evenly along a row', enabled: several, run: align('even-row') },
    {
      id: 'even-column',
      name: 'Space what is chosen evenly along a column',
      enabled: several,
      run: align('even-column'),
    },
    { id: 'block', name: 'Make a block of what is chosen', enabled: some, run: () => (sheet.isNaming = true) },
    {
      id: 'block-close',
      name: 'Back from the block to the circuit',
      enabled: () => sheet.inside !== null,
      run: () => sheet.openBlock(null),
    },
    { id: 'details', name: 'Details of the chosen part', enabled: some, run: () => (sheet.isDetailed = true) },
  ]
}
