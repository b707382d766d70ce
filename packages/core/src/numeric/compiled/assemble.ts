import { type Graph, Op, type Value, ZERO } from './graph.js'
import { webAssembly, type WebAssemblyInterface } from './webAssembly.js'

/** Points that one call works on at the most: the machine exchanges code for better code between calls only. */
export const CHUNK = 256

/** Bytes between the ends of neighbouring arrays, so that they do not contend for the same places of the caches. */
const STAGGER = 80

/** Bytes of a pair of doubles. */
const PAIR = 16

/**
 * With more outputs than this a point's values go to a tile first, side by side, and from there to their arrays some
 * points at a time: one store into each of hundreds of arrays would miss the caches every time.
 */
const MANY_OUTPUTS = 32
const TILE_PAIRS = 64

/**
 * Pairs that are worked on at the same time: an elimination is one long chain, each operation waiting for the one before,
 * and a second chain beside it costs next to nothing.
 */
const CHAINS = 2

/** Points that go together: a run's last ones must be filled up to a multiple of this. */
export const GROUP = 2 * CHAINS

const filledUp = (points: number): number => Math.ceil(points / GROUP) * GROUP

/** A graph as code, with the memory that it works in. */
export interface Assembled {
  /**
   * Memory for sweeps of up to so many points; what was there before is gone.
   *
   * @returns `omega` to be filled with angular frequencies, and one array an output
   */
  reserve(points: number): { omega: Float64Array; outputs: readonly Float64Array[] }
  /** Works out what does not change with the frequency, for these given values. */
  prepare(given: Float64Array): void
  /** Writes the outputs of the first points; frequencies must stand up to the next multiple of `GROUP`. */
  run(points: number): void
}

/**
 * Writes a graph as a WebAssembly module with 128-bit SIMD, two points in a pair of lanes, and some pairs at a time.
 *
 * Source of the encoding: WebAssembly Core Specification 2.0, W3C, ch. 5.
 *
 * @param outputs values to be written for each point; structural zeros stay zero
 * @returns null where the machine has no WebAssembly with SIMD
 */
export function assemble(graph: Graph, outputs: readonly Value[]): Assembled | null {
  if (!webAssembly) return null
  const plan = planMemory(graph, outputs)
  let module: object
  try {
    const bodies = [encodeBody(graph, outputs, plan)]
    if (plan.tileAt !== null) bodies.push(encodeSpread(outputs.length, plan.tileAt, plan.omegaAt))
    module = new webAssembly.Module(encodeModule(bodies))
  } catch (error) {
    // No SIMD, or code is forbidden here: whoever asked replays the program instead.
    if (error instanceof webAssembly.CompileError) return null
    throw error
  }
  return new Code(webAssembly, graph, plan, module, outputs.length)
}

class Code implements Assembled {
  private capacity = 0
  private stride = 0
  private constants = new Float64Array(0)
  private call: Call = () => {}
  private spread: Call | null = null
  private reserved: ReturnType<Assembled['reserve']> = { omega: new Float64Array(0), outputs: [] }
  private readonly scratch: Float64Array

  constructor(
    private readonly runtime: WebAssemblyInterface,
    private readonly graph: Graph,
    private readonly plan: MemoryPlan,
    private readonly module: object,
    private readonly outputCount: number,
  ) {
    this.scratch = new Float64Array(graph.size)
  }

  reserve(points: number): ReturnType<Assembled['reserve']> {
    if (points <= this.capacity) return this.reserved
    this.capacity = filledUp(points)
    this.stride = 8 * this.capacity + STAGGER
    const { omegaAt } = this.plan
    const bytes = omegaAt + this.stride * (1 + this.outputCount)
    // Growing a memory slows every typed array of the process, so that a new one is made at its final size.
    const pages = Math.ceil(bytes / 65536)
    const memory = new this.runtime.Memory({ initial: pages, maximum: pages })
    const { exports } = new this.runtime.Instance(this.module, { m: { m: memory } })
    this.call = exports.r as Call
    this.spread = this.plan.tileAt === null ? null : (exports.s as Call)
    this.constants = new Float64Array(memory.buffer, 0, 2 * this.plan.constants.length)
    const array = (k: number) => new Float64Array(memory.buffer, omegaAt + k * this.stride, this.capacity)
    this.reserved = { omega: array(0), outputs: Array.from({ length: this.outputCount }, (_, k) => array(k + 1)) }
    return this.reserved
  }

  prepare(given: Float64Array): void {
    const { constants, scratch, plan } = this
    evaluateConstants(this.graph, plan.needed, given, scratch)
    plan.constants.forEach((node, k) => {
      constants[2 * k] = constants[2 * k + 1] = scratch[node]
    })
  }

  run(points: number): void {
    const step = this.spread ? 2 * TILE_PAIRS : CHUNK
    for (let from = 0; from < points; from += step) {
      const end = 8 * Math.min(filledUp(points), from + step)
      this.call(8 * from, end, this.stride)
      this.spread?.(8 * from, end, this.stride)
    }
  }
}

/** Points from one place to another, in bytes of an array; the outputs' arrays lie `stride` bytes apart. */
type Call = (from: number, end: number, stride: number) => void

interface MemoryPlan {
  /** Nodes without frequency that others with it (or outputs) read, in memory order. */
  readonly constants: readonly Value[]
  readonly constantAt: ReadonlyMap<Value, number>
  /** Every node without frequency that is needed for them, in order. */
  readonly needed: readonly Value[]
  /** Uses of each node with frequency; 0 where no output needs it. */
  readonly uses: Int32Array
  /** Bytes from the begin to the tile of outputs, where there is one. */
  readonly tileAt: number | null
  /** Bytes from the begin to the frequencies; the outputs' arrays follow at equal distances. */
  readonly omegaAt: number
}

function planMemory(graph: Graph, outputs: readonly Value[]): MemoryPlan {
  const uses = new Int32Array(graph.size)
  for (const value of outputs) if (value !== ZERO) uses[value]++
  for (let k = graph.size - 1; k >= 0; k--) {
    if (uses[k] === 0 || !isOperation(graph.op[k])) continue
    uses[graph.a[k]]++
    uses[graph.b[k]]++
  }
  const constants: Value[] = []
  const constantAt = new Map<Value, number>()
  const read = (value: Value) => {
    if (value === ZERO || graph.varies[value] || constantAt.has(value)) return
    constantAt.set(value, constants.length * PAIR)
    constants.push(value)
  }
  const needed: Value[] = []
  for (let k = 0; k < graph.size; k++) {
    if (uses[k] === 0) continue
    if (!graph.varies[k]) needed.push(k)
    else if (isOperation(graph.op[k])) {
      read(graph.a[k])
      read(graph.b[k])
    }
  }
  outputs.forEach(read)
  const end = constants.length * PAIR
  const tiled = outputs.length > MANY_OUTPUTS
  const omegaAt = tiled ? end + TILE_PAIRS * PAIR * outputs.length + STAGGER : end
  return { constants, constantAt, needed, uses, tileAt: tiled ? end : null, omegaAt }
}

const isOperation = (op: Op) => op === Op.Add || op === Op.Sub || op === Op.Mul || op === Op.Div

function evaluateConstants(graph: Graph, needed: readonly Value[], given: Float64Array, out: Float64Array): void {
  const { op, a, b, number } = graph
  for (const k of needed) {
    switch (op[k]) {
      case Op.Literal:
        out[k] = number[k]
        break
      case Op.Given:
        out[k] = given[a[k]]
        break
      case Op.Add:
        out[k] = out[a[k]] + out[b[k]]
        break
      case Op.Sub:
        out[k] = out[a[k]] - out[b[k]]
        break
      case Op.Mul:
        out[k] = out[a[k]] * out[b[k]]
        break
      default:
        out[k] = out[a[k]] / out[b[k]]
    }
  }
}

/** Grows as bytes are written. */
class Bytes {
  private bytes = new Uint8Array(4096)
  length = 0

  byte(...values: number[]): void {
    if (this.length + values.length > this.bytes.length) {
      const grown = new Uint8Array(2 * this.bytes.length + values.length)
      grown.set(this.bytes)
      this.bytes = grown
    }
    for (const v of values) this.bytes[this.length++] = v
  }

  unsigned(value: number): void {
    let v = value
    while (v > 127) {
      this.byte((v & 127) | 128)
      v >>>= 7
    }
    this.byte(v)
  }

  signed(value: number): void {
    let v = value
    for (;;) {
      const low = v & 127
      v >>= 7
      if ((v === 0 && !(low & 64)) || (v === -1 && low & 64)) return this.byte(low)
      this.byte(low | 128)
    }
  }

  /** Another run of bytes, its length before it. */
  block(inner: Bytes): void {
    this.unsigned(inner.length)
    this.append(inner)
  }

  append(inner: Bytes): void {
    for (let k = 0; k < inner.length; k++) this.byte(inner.bytes[k])
  }

  /** local += bytes */
  advance(local: number, bytes: number): void {
    this.byte(LOCAL_GET, local, I32_CONST)
    this.signed(bytes)
    this.byte(I32_ADD, LOCAL_SET, local)
  }

  /** Ends the innermost loop, which goes on while one local is below another. */
  continueWhileBelow(local: number, end: number): void {
    this.byte(LOCAL_GET, local, LOCAL_GET, end, I32_LT_U, BRANCH_IF, 0, END_OF_BLOCK)
  }

  done(): Uint8Array<ArrayBuffer> {
    return this.bytes.slice(0, this.length)
  }
}

const I32 = 0x7f
const V128 = 0x7b
const SIMD = 0xfd
const LOCAL_GET = 0x20
const LOCAL_SET = 0x21
const LOCAL_TEE = 0x22
const I32_CONST = 0x41
const I32_ADD = 0x6a
const I32_LT_U = 0x49
const LOOP = 0x03
const NO_RESULT = 0x40
const BRANCH_IF = 0x0d
const END_OF_BLOCK = 0x0b

/** v128.load and v128.store, aligned to 8 bytes; an offset follows. */
const LOAD = [0x00, 3] as const
const STORE = [0x0b, 3] as const

/** Opcodes of f64x2 arithmetic, after the SIMD prefix, as LEB128. */
const ARITHMETIC: Partial<Record<Op, readonly number[]>> = {
  [Op.Add]: [0xf0, 0x01],
  [Op.Sub]: [0xf1, 0x01],
  [Op.Mul]: [0xf2, 0x01],
  [Op.Div]: [0xf3, 0x01],
}

// Locals: the place reached (in bytes), the end, the distance of the outputs' arrays, the output's place, pairs of doubles.
const PLACE = 0
const END = 1
const STRIDE = 2
const RESULT = 3
const FIRST_PAIR = 4

function encodeBody(graph: Graph, outputs: readonly Value[], plan: MemoryPlan): Bytes {
  const code = new Bytes()
  const { op, a, b, varies } = graph
  const locals = new Locals()
  const localOf = new Map<Value, number>()
  const left = Int32Array.from(plan.uses)

  /** Which of the chains is being written. */
  let chain = 0

  const load = (offset: number, placed: boolean) => {
    if (placed) code.byte(LOCAL_GET, PLACE)
    else {
      code.byte(I32_CONST)
      code.signed(0)
    }
    code.byte(SIMD, ...LOAD)
    code.unsigned(offset)
  }
  /** Puts a value on the stack; one that is used once more only is worked out there and then. */
  const push = (value: Value): void => {
    if (!varies[value]) return load(plan.constantAt.get(value)!, false)
    const local = localOf.get(value)
    if (local === undefined) return operate(value)
    code.byte(LOCAL_GET)
    code.unsigned(local + chain)
    // The last chain to read it gives it back.
    if (chain === CHAINS - 1 && --left[value] === 0) {
      locals.release(local)
      localOf.delete(value)
    }
  }
  const operate = (value: Value): void => {
    if (op[value] === Op.Omega) return load(plan.omegaAt + PAIR * chain, true)
    push(a[value])
    push(b[value])
    code.byte(SIMD, ...ARITHMETIC[op[value]]!)
  }

  if (plan.tileAt !== null) {
    code.byte(I32_CONST)
    code.signed(plan.tileAt)
    code.byte(LOCAL_SET, RESULT)
  }
  code.byte(LOOP, NO_RESULT)
  for (let k = 0; k < graph.size; k++) {
    // Values used several times get a local; those used once are written where they are used.
    if (!varies[k] || plan.uses[k] < 2) continue
    const local = locals.take()
    for (chain = 0; chain < CHAINS; chain++) {
      operate(k)
      code.byte(LOCAL_SET)
      code.unsigned(local + chain)
    }
    localOf.set(k, local)
  }
  if (plan.tileAt === null) code.byte(LOCAL_GET, PLACE, LOCAL_SET, RESULT)
  outputs.forEach((value, k) => {
    if (plan.tileAt === null) code.byte(LOCAL_GET, RESULT, LOCAL_GET, STRIDE, I32_ADD, LOCAL_SET, RESULT)
    if (value === ZERO) return
    for (chain = 0; chain < CHAINS; chain++) {
      code.byte(LOCAL_GET, RESULT)
      push(value)
      code.byte(SIMD, ...STORE)
      code.unsigned(plan.tileAt === null ? plan.omegaAt + PAIR * chain : PAIR * (k + chain * outputs.length))
    }
  })
  if (plan.tileAt !== null) code.advance(RESULT, CHAINS * PAIR * outputs.length)
  code.advance(PLACE, CHAINS * PAIR)
  code.continueWhileBelow(PLACE, END)

  const body = new Bytes()
  const groups = locals.most > 0 ? 2 : 1
  body.unsigned(groups)
  body.byte(1, I32)
  if (locals.most > 0) {
    body.unsigned(locals.most)
    body.byte(V128)
  }
  body.append(code)
  body.byte(END_OF_BLOCK)
  return body
}

/** From the tile to the outputs' arrays: output by output, the tile's pairs of it one after the other. */
function encodeSpread(outputs: number, tileAt: number, omegaAt: number): Bytes {
  const [ROW, FROM, TO, ARRAY_END, LAST] = [3, 4, 5, 6, 7]
  const body = new Bytes()
  body.byte(1, 5, I32)
  // row = first output's place in the tile; place and end move on from array to array.
  body.byte(I32_CONST)
  body.signed(tileAt)
  body.byte(LOCAL_TEE, ROW, I32_CONST)
  body.signed(PAIR * outputs)
  body.byte(I32_ADD, LOCAL_SET, LAST)
  body.byte(LOOP, NO_RESULT)
  for (const place of [PLACE, END]) body.byte(LOCAL_GET, place, LOCAL_GET, STRIDE, I32_ADD, LOCAL_SET, place)
  body.byte(LOCAL_GET, ROW, LOCAL_SET, FROM, LOCAL_GET, PLACE, LOCAL_SET, TO, LOCAL_GET, END, LOCAL_SET, ARRAY_END)
  body.byte(LOOP, NO_RESULT)
  body.byte(LOCAL_GET, TO, LOCAL_GET, FROM, SIMD, ...LOAD, 0, SIMD, ...STORE)
  body.unsigned(omegaAt)
  body.advance(FROM, PAIR * outputs)
  body.advance(TO, PAIR)
  body.continueWhileBelow(TO, ARRAY_END)
  body.advance(ROW, PAIR)
  body.continueWhileBelow(ROW, LAST)
  body.byte(END_OF_BLOCK)
  return body
}

/** Hands out locals, one a chain side by side, those given back first. */
class Locals {
  most = 0
  private readonly free: number[] = []

  take(): number {
    const free = this.free.pop()
    if (free !== undefined) return free
    this.most += CHAINS
    return FIRST_PAIR + this.most - CHAINS
  }

  release(local: number): void {
    this.free.push(local)
  }
}

/** @param bodies of the function `r`, and of `s` where there is one */
function encodeModule(bodies: readonly Bytes[]): Uint8Array<ArrayBuffer> {
  const module = new Bytes()
  const section = (id: number, write: (s: Bytes) => void) => {
    const content = new Bytes()
    write(content)
    module.byte(id)
    module.block(content)
  }
  module.byte(0, 0x61, 0x73, 0x6d, 1, 0, 0, 0)
  // Types: functions of three i32, without result.
  section(1, (s) => s.byte(1, 0x60, 3, I32, I32, I32, 0))
  // Imports: the memory m.m, at least one page.
  section(2, (s) => s.byte(1, 1, 0x6d, 1, 0x6d, 2, 0, 1))
  section(3, (s) => s.byte(bodies.length, ...bodies.map(() => 0)))
  // Exports: the functions as r, s.
  section(7, (s) => s.byte(bodies.length, ...bodies.flatMap((_, k) => [1, 0x72 + k, 0, k])))
  section(10, (s) => {
    s.byte(bodies.length)
    for (const body of bodies) s.block(body)
  })
  return module.done()
}
