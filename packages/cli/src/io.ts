import { makeRoom } from './atWork.js'
import {
  closeSync,
  existsSync,
  openSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs'
import { Readable } from 'node:stream'
import {
  type AnalysisCard,
  askedSpec,
  type Circuit,
  decodeText,
  type Design,
  designedCircuit,
  type FilterSpec,
  formulate,
  type LocatedJson,
  type Mna,
  outdatedText,
  parseJson,
  parseSpec,
  readDesign,
  readable,
  readNetlist,
  smallSignal,
  VoskelError,
  ZERO_CELSIUS,
} from '@voskel/core'

/** A file's text and how to name places in it. */
export interface Source {
  readonly name: string
  readonly text: string
  readonly json: LocatedJson | null
}

/** An error together with the input that it is about. */
export class InputError extends Error {
  constructor(
    override readonly cause: VoskelError,
    readonly source: Source | null,
  ) {
    super(cause.message)
  }
}

/** A file's bytes, or those of standard input for `-`. */
function bytesOf(file: string): Buffer {
  try {
    return readFileSync(file === '-' ? 0 : file)
  } catch (error) {
    const reason =
      (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file' : (error as Error).message
    const cause = new VoskelError('ARGUMENT', {
      problem: `${file} cannot be read: ${reason}.`,
      fix: 'Name a file, or - for standard input.',
    })
    throw new InputError(cause, null)
  }
}

/** Reads a file, or standard input for `-`. A text that starts with `{` is JSON. */
export function readSource(file: string): Source {
  const text = bytesOf(file).toString('utf8')
  const bare = { name: file, text: text.replace(/^\ufeff/, ''), json: null }
  if (bare.text.trim() === '') {
    throw new InputError(
      new VoskelError('ARGUMENT', {
        problem: 'The input is empty.',
        fix: 'Give a netlist, a design or a specification.',
      }),
      bare,
    )
  }
  return bare.text.trimStart().startsWith('{') ? { ...bare, json: within(bare, () => parseJson(bare.text)) } : bare
}

/** Reads a table that others wrote, in whatever encoding. */
export const readTableSource = (file: string): Source => ({
  name: file,
  text: decodeText(bytesOf(file)).text,
  json: null,
})

/** Runs a step whose errors are about this source. */
export function within<T>(source: Source, step: () => T): T {
  try {
    return step()
  } catch (error) {
    if (error instanceof VoskelError) throw new InputError(error, source)
    throw error
  }
}

/** A circuit with what came along with it. */
export interface LoadedCircuit {
  readonly source: Source
  readonly circuit: Circuit
  readonly analyses: readonly AnalysisCard[]
  readonly design: Design | null
}

/** Reads a netlist or a design; warnings go to standard error. */
export function loadCircuit(file: string): LoadedCircuit {
  const source = readSource(file)
  return within(source, () => {
    if (!source.json) {
      const { circuit, analyses, warnings } = readNetlist(source.text)
      for (const warning of warnings) warn(source, warning)
      return { source, circuit, analyses, design: null }
    }
    if (isSpec(source.json.value)) {
      throw new VoskelError('ARGUMENT', {
        problem: 'This is a specification, not a circuit.',
        fix: 'Make its circuit with `voskel design`.',
      })
    }
    const design = readDesign(source.json.value)
    return { source, circuit: circuitOf(source, design), analyses: design.analyses ?? [], design }
  })
}

/** The circuit for small signals around its operating point, at a temperature in °C; warnings go to standard error. */
export function linearised({ source, circuit }: Pick<LoadedCircuit, 'source' | 'circuit'>, celsius: number): Mna {
  const mna = smallSignal(formulate(circuit, { temperature: celsius + ZERO_CELSIUS }))
  for (const warning of mna.circuit.warnings) warn(source, warning)
  return mna
}

/**
 * A design's circuit. Where this version computes other values than the file shows the file's stand, and a warning says
 * so, as it does where something was said of a part that the circuit does not have.
 */
export function circuitOf(source: Source, design: Design): Circuit {
  const found = designedCircuit(design)
  if (!found)
    throw new VoskelError('DESIGN_INVALID', {
      problem: 'it holds neither a circuit nor a specification with a realization',
    })
  if (found.outdated) warn(source, outdatedText(found.outdated))
  const lost = Object.keys(found.lost)
  if (lost.length > 0)
    warn(
      source,
      `the circuit has no ${lost.join(', ')}; what the file says of ${lost.length > 1 ? 'them' : 'it'} has no effect`,
    )
  return found.circuit
}

export function loadSpec(file: string): { source: Source; spec: FilterSpec } {
  const source = readSource(file)
  return within(source, () => {
    if (!source.json) {
      throw new VoskelError('ARGUMENT', {
        problem: 'A specification is JSON; this does not start with "{".',
        fix: 'See docs/guide/specification.md.',
      })
    }
    const value = source.json.value
    if (isSpec(value)) return { source, spec: parseSpec(value) }
    const design = readDesign(value)
    if (!design.specification)
      throw new VoskelError('DESIGN_INVALID', { problem: 'it holds no specification' }, { path: '' })
    return { source, spec: askedSpec(design)! }
  })
}

/** Anything that is not marked as a design is read as a specification, so that its own errors are told. */
export function isSpec(value: unknown): boolean {
  return typeof value === 'object' && value !== null && !('format' in value)
}

export const warn = (source: Source, text: string): void => say(source, 'warning', text)

/** What is worth knowing and nothing to worry about. */
export const note = (source: Source, text: string): void => say(source, 'note', text)

function say({ name }: Source, kind: string, text: string): void {
  makeRoom()
  process.stderr.write(`${name}: ${kind}: ${readable(text)}\n`)
}

/** Writes a result, or its pieces one after the other, to standard output or to a file. */
export function emit(text: string | Iterable<string>, out?: string): void {
  const pieces = typeof text === 'string' ? [text.endsWith('\n') ? text : text + '\n'] : text
  if (out === undefined) {
    // Not written synchronously: a pipe that is full would refuse it.
    Readable.from(pieces, { objectMode: false }).pipe(process.stdout)
    return
  }
  try {
    writeWhole(out, pieces)
  } catch (error) {
    // What went wrong while the pieces were computed is no matter of the file.
    if ((error as NodeJS.ErrnoException).syscall === undefined) throw error
    throw unwritable(out, error as Error)
  }
}

/** An output that could not be written. */
export function unwritable(what: string, error: Error): InputError {
  return new InputError(
    new VoskelError('ARGUMENT', {
      problem: `${what} cannot be written: ${error.message}.`,
      fix: 'Make room there, or name another file.',
    }),
    null,
  )
}

/** Writes a file beside its place and moves it there when it is whole; pipes and devices are written as they are. */
function writeWhole(out: string, pieces: Iterable<string>): void {
  const target = existsSync(out) ? realpathSync(out) : out
  const inPlace = existsSync(target) && !statSync(target).isFile()
  const path = inPlace ? target : `${target}.${process.pid}.part`
  try {
    const file = openSync(path, 'w', existsSync(target) ? statSync(target).mode : undefined)
    try {
      for (const piece of pieces) writeSync(file, piece)
    } finally {
      closeSync(file)
    }
    if (!inPlace) renameSync(path, target)
  } catch (error) {
    if (!inPlace) rmSync(path, { force: true })
    throw error
  }
}

export function emitJson(value: unknown, out?: string): void {
  emit(JSON.stringify(value, null, 2), out)
}
