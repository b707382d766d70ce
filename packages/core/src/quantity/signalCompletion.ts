import { SIGNAL_FUNCTIONS } from './signalFunctions.js'

/** Names that a signal may be made of. */
export interface SignalNames {
  readonly nets: readonly string[]
  readonly parts: readonly string[]
  readonly sources: readonly string[]
  readonly parameters: readonly string[]
}

/** A way to go on with a text. */
export interface Completion {
  /** The whole text, and where one goes on typing in it. */
  readonly text: string
  readonly caret: number
  /** What is offered, as `v(out)`. */
  readonly shown: string
  readonly says: string
}

const LEAVES = [
  { head: 'V(', of: 'nets', says: 'voltage of a net, or between two' },
  { head: 'I(', of: 'parts', says: 'current into a part’s first pin' },
  { head: 'P(', of: 'parts', says: 'power in a part' },
  { head: 'Z(', of: 'sources', says: 'impedance that a source, or a net, shows' },
  { head: 'S11(', of: 'parts', says: 'reflection at the source’s resistor' },
  { head: 'S21(', of: 'parts', says: 'from the source’s resistor to the load’s' },
  { head: 'S12(', of: 'parts', says: 'from the load’s resistor to the source’s' },
  { head: 'S22(', of: 'parts', says: 'reflection at the load’s resistor' },
] as const

/**
 * What a signal that is being typed may go on with: names inside of `V(…)` and its like, else quantities, functions and
 * parameters that begin with the word before the caret.
 */
export function signalCompletions(text: string, caret: number, names: SignalNames): Completion[] {
  const before = text.slice(0, caret)
  const inside = /(s[12][12]|[vizp])\(\s*(?:[^(),"]*,\s*)?([^(),"]*)$/i.exec(before)
  if (inside) {
    const op = inside[1].toLowerCase()
    const known = op === 'v' ? names.nets : op === 'z' ? [...names.sources, ...names.nets] : names.parts
    return offered(text, caret, inside[2], known, (name) => ({
      insert: name,
      close: op === 'i' || op === 'p' ? ')' : '',
      shown: name,
      says: op === 'v' || (op === 'z' && !names.sources.includes(name)) ? 'net' : 'part',
    }))
  }
  const word = /[A-Za-z_]\w*$/.exec(before)?.[0] ?? ''
  const all = [
    ...LEAVES.map(({ head, says }) => ({ insert: head, close: '', shown: `${head}…)`, says })),
    ...Object.entries(SIGNAL_FUNCTIONS).map(([name, says]) => ({
      insert: `${name}(`,
      close: '',
      shown: `${name}(…)`,
      says,
    })),
    ...names.parameters.map((name) => ({ insert: name, close: '', shown: name, says: 'parameter' })),
  ]
  return offered(
    text,
    caret,
    word,
    all.map((one) => one.insert),
    (insert) => all.find((one) => one.insert === insert)!,
  )
}

function offered(
  text: string,
  caret: number,
  word: string,
  known: readonly string[],
  say: (name: string) => { insert: string; close: string; shown: string; says: string },
): Completion[] {
  const fits = known.filter((n) => n.toLowerCase().startsWith(word.toLowerCase()) && n.length > word.length)
  return fits.map((name) => {
    const { insert, close, shown, says } = say(name)
    const begin = text.slice(0, caret - word.length) + insert
    const rest = text.slice(caret)
    const closing = close !== '' && !rest.startsWith(close) ? close : ''
    return { text: begin + closing + rest, caret: begin.length + closing.length, shown, says }
  })
}
