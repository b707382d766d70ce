import { type Graph, Op, type Value, ZERO } from './graph.js'
import { webAssembly, type WebAssemblyInterface } from './webAssembly.js'

/** Points that one call works on at the most: the machine exchanges code for better code between calls only. */
export const CHUNK = 256

/** Bytes between the ends of neighbouring arrays, so that they do not contend for the same places of the caches. */
const STAGGER = 80

/** Bytes of a pair of doubles. */
const PAIR = 16

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
  /** Writes the outputs of the first points, in pairs: an odd last one needs a companion. */
  run(points: number): void
}

/**
 * Writes a graph as a WebAssembly module with 128-bit SIMD, two points in a pair of lanes.
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
    module = new webAssembly.Module(encodeModule(encodeBody(graph, outputs, plan)))
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
  private call: (from: number, end: number, stride: number) => void = () => {}
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
    this.capacity = points + (points % 2)
    this.stride = 8 * this.capacity + STAGGER
    const { omegaAt } = this.plan
    const bytes = omegaAt + this.stride * (1 + this.outputCount)
    // Growing a memory slows every typed array of the process, so that a new one is made at its final size.
    const pages = Math.ceil(bytes / 65536)
    const memory = new this.runtime.Memory({ initial: pages, maximum: pages })
    this.call = new this.runtime.Instance(this.module, { m: { m: memory } }).exports.r as typeof this.call
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
    for (let from = 0; from < points; from += CHUNK) {
      this.call(8 * from, 8 * Math.min(points + (points % 2), from + CHUNK), this.stride)
    }
  }
}

interface MemoryPlan {
  /** Nodes without frequency that others with it (or outputs) read, in memory order. */
  readonly constants: readonly Value[]
  readonly constantAt: ReadonlyMap<Value, number>
  /** Every node without frequency that is needed for them, in order. */
  readonly needed: readonly Value[]
  /** Uses of each node with frequency; 0 where no output needs it. */
  readonly uses: Int32Array
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
  return { constants, constantAt, needed, uses, omegaAt: constants.length * PAIR }
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

  const load = (offset: number, placed: boolean) => {
    if (placed) code.byte(LOCAL_GET, PLACE)
    else {
      code.byte(I32_CONST)
      code.signed(0)
    }
    // v128.load, aligned to 8 bytes
    code.byte(SIMD, 0x00, 3)
    code.unsigned(offset)
  }
  /** Puts a value on the stack; one that is used once more only is worked out there and then. */
  const push = (value: Value): void => {
    if (!varies[value]) return load(plan.constantAt.get(value)!, false)
    const local = localOf.get(value)
    if (local === undefined) return operate(value)
    code.byte(LOCAL_GET)
    code.unsigned(local)
    if (--left[value] === 0) {
      locals.release(local)
      localOf.delete(value)
    }
  }
  const operate = (value: Value): void => {
    if (op[value] === Op.Omega) return load(plan.omegaAt, true)
    push(a[value])
    push(b[value])
    code.byte(SIMD, ...ARITHMETIC[op[value]]!)
  }

  code.byte(0x03, 0x40)
  for (let k = 0; k < graph.size; k++) {
    // Values used several times get a local; those used once are written where they are used.
    if (!varies[k] || plan.uses[k] < 2) continue
    operate(k)
    const local = locals.take()
    localOf.set(k, local)
    code.byte(LOCAL_SET)
    code.unsigned(local)
  }
  code.byte(LOCAL_GET, PLACE, LOCAL_SET, RESULT)
  for (const value of outputs) {
    code.byte(LOCAL_GET, RESULT, LOCAL_GET, STRIDE, I32_ADD, LOCAL_SET, RESULT)
    if (value === ZERO) continue
    code.byte(LOCAL_GET, RESULT)
    push(value)
    // v128.store
    code.byte(SIMD, 0x0b, 3)
    code.unsigned(plan.omegaAt)
  }
  // place += 16; continue while place < end
  code.byte(LOCAL_GET, PLACE, I32_CONST, PAIR, I32_ADD, LOCAL_TEE, PLACE, LOCAL_GET, END, I32_LT_U, 0x0d, 0, 0x0b)

  const body = new Bytes()
  const groups = locals.most > 0 ? 2 : 1
  body.unsigned(groups)
  body.byte(1, I32)
  if (locals.most > 0) {
    body.unsigned(locals.most)
    body.byte(V128)
  }
  body.append(code)
  body.byte(0x0b)
  return body
}

/** Hands out locals, those given back first. */
class Locals {
  most = 0
  private readonly free: number[] = []

  take(): number {
    return this.free.pop() ?? FIRST_PAIR + this.most++
  }

  release(local: number): void {
    this.free.push(local)
  }
}

function encodeModule(body: Bytes): Uint8Array<ArrayBuffer> {
  const module = new Bytes()
  const section = (id: number, write: (s: Bytes) => void) => {
    const content = new Bytes()
    write(content)
    module.byte(id)
    module.block(content)
  }
  module.byte(0, 0x61, 0x73, 0x6d, 1, 0, 0, 0)
  // Types: one function of three i32, without result.
  section(1, (s) => s.byte(1, 0x60, 3, I32, I32, I32, 0))
  // Imports: the memory m.m, at least one page.
  section(2, (s) => s.byte(1, 1, 0x6d, 1, 0x6d, 2, 0, 1))
  section(3, (s) => s.byte(1, 0))
  section(7, (s) => s.byte(1, 1, 0x72, 0, 0))
  section(10, (s) => {
    s.byte(1)
    s.block(body)
  })
  return module.done()
}
