import { describe, expect, test } from 'vitest'
import { documentNets, drawnNets } from '../../testing/drawnNets.js'
import type { Circuit } from '../circuit.js'
import { endPoint, wirePoints } from '../drawing/geometry.js'
import { flatten } from '../flatten.js'
import { NetMap } from '../NetMap.js'
import { blankCircuit } from './blankCircuit.js'
import { circuitEdit, type EditCall } from './index.js'
import { pieceOf } from './pasteThings.js'
import { tipAfter, walkFrom } from './walk.js'

const done = (circuit: Circuit, ...calls: EditCall[]) => calls.reduce((c, call) => circuitEdit(call).apply(c), circuit)
const resistor = (resistance: number) => ({ kind: 'resistor', values: { resistance } })
const capacitor = (capacitance: number) => ({ kind: 'capacitor', values: { capacitance } })
/** A low-pass: R1 from the source to out, C1 to ground. */
const lowpass = done(
  blankCircuit(),
  { edit: 'grow-part', args: { from: { junction: 'J1' }, way: 'onwards', part: resistor(4700) } },
  { edit: 'grow-part', args: { from: { part: 'R1', pin: 'b' }, way: 'ground', part: capacitor(1e-7) } },
)
/** Names of nets in the order of the pins, by part. */
const joints = (circuit: Circuit) => {
  const { nodes, elements } = flatten(circuit)
  return Object.fromEntries(elements.map((e) => [e.name, e.nodes.map((n) => (n < 0 ? '0' : nodes[n])).join(' ')]))
}
const isWhole = (circuit: Circuit) => expect(drawnNets(circuit)).toEqual(documentNets(circuit))
const partOf = (circuit: Circuit, id: string) => circuit.parts.find((p) => p.id === id)!

describe('growing', () => {
  test('a second shunt stands beside the first, joined on the same net', () => {
    const two = done(lowpass, {
      edit: 'grow-part',
      args: { from: { part: 'R1', pin: 'b' }, way: 'ground', part: resistor(1e4) },
    })
    expect(joints(two)).toEqual({ V1: 'in 0', R1: 'in out', C1: 'out 0', R2: 'out 0' })
    expect(partOf(two, 'R2').at!.x).toBeGreaterThan(partOf(two, 'C1').at!.x)
    isWhole(two)
  })

  test('into something that is there: it makes room, its circuit stays', () => {
    let circuit = lowpass
    for (let k = 0; k < 8; k++)
      circuit = done(circuit, {
        edit: 'grow-part',
        args: { from: { junction: 'J1' }, way: 'onwards', part: resistor(100 + k) },
      })
    expect(joints(circuit)).toMatchObject({ R1: 'in out', C1: 'out 0' })
    expect(new NetMap(circuit).pinsOf('in')).toHaveLength(10)
    isWhole(circuit)
  })

  test('a transistor stands upright beside what controls it, and conducts the way that is said', () => {
    const grow = (kind: string, way: 'ground' | 'supply' | 'onwards', pin?: string) =>
      ({
        edit: 'grow-part',
        args: { from: { junction: 'J1' }, way, part: { kind, values: {} }, ...(pin !== undefined && { pin }) },
      }) as const
    const cases = [
      // The pin on its rail, the one where the signal goes on, and how the part lies.
      { call: grow('nmos', 'ground'), rail: ['source', '0'], on: 'drain', at: { rotation: 0 } },
      { call: grow('pmos', 'supply'), rail: ['source', 'supply'], on: 'drain', at: { rotation: 180, mirrored: true } },
      { call: grow('nmos', 'supply'), rail: ['drain', 'supply'], on: 'source', at: { rotation: 0 } },
      { call: grow('npn', 'ground'), rail: ['emitter', '0'], on: 'collector', at: { rotation: 0 } },
      { call: grow('pnp', 'supply'), rail: ['emitter', 'supply'], on: 'collector', at: { rotation: 180 } },
      { call: grow('pmos', 'supply', 'drain'), rail: ['source', 'supply'], on: 'gate', at: { rotation: 180 } },
    ] as const
    for (const { call, rail, on, at } of cases) {
      const begun = blankCircuit()
      const circuit = done(begun, call)
      const part = circuit.parts.find((p) => p.kind === call.args.part.kind)!
      const nets = NetMap.of(circuit)
      expect(nets.netOf(part.id, rail[0])).toBe(rail[1])
      expect(part.at).toMatchObject(at)
      // From its control pin the signal has come to the other end of the channel.
      const isControlled = !('pin' in call.args)
      if (isControlled) {
        expect(nets.netOf(part.id, on)).toBe('out')
        expect(tipAfter(begun, circuit, { junction: 'J1' }, false)).toEqual({ part: part.id, pin: on })
      }
      isWhole(circuit)
    }
  })

  test('what lies ahead moves on where no lane beside is free', () => {
    const from = { part: 'R1', pin: 'b' } as const
    const crowded = done(
      lowpass,
      ...[2, 3, 4, 5].map((k): EditCall => ({
        edit: 'put-part',
        args: { part: capacitor(k * 1e-9), at: { x: 18, y: 6 * (k - 3), rotation: 90 } },
      })),
    )
    const grown = done(crowded, {
      edit: 'grow-part',
      args: { from, way: 'onwards', part: { kind: 'nmos', values: {} } },
    })
    expect(NetMap.of(grown).netOf('M1', 'gate')).toBe(NetMap.of(grown).netOf('R1', 'b'))
    expect(
      NetMap.of(grown)
        .pinsOf(NetMap.of(grown).netOf('M1', 'drain') ?? '')
        .map((p) => p.part),
    ).toEqual(['M1'])
    isWhole(grown)
  })

  test('a follower comes with its feedback', () => {
    const buffered = done(lowpass, {
      edit: 'grow-part',
      args: {
        from: { part: 'R1', pin: 'b' },
        way: 'onwards',
        part: { kind: 'opamp', values: {} },
        joins: [['minus', 'out']],
      },
    })
    const [plus, minus, out] = joints(buffered).U1.split(' ')
    expect(plus).not.toBe('out')
    expect([minus, out]).toEqual(['out', 'out'])
    isWhole(buffered)
  })
})

describe('into a wire, and onto a part', () => {
  const wire = lowpass.wires.find((w) => w.ends.some((e) => 'part' in e && e.part === 'R1' && e.pin === 'a'))!
  test('in series, with room made where the wire is too short', () => {
    const [a, b] = wirePoints(lowpass, wire)!
    const at = { x: Math.round((a.x + b.x) / 2), y: a.y }
    const series = done(lowpass, { edit: 'put-in-wire', args: { wire: wire.id, at, part: resistor(50) } })
    const [from, to] = joints(series).R2.split(' ')
    expect(from).toBe('in')
    expect(joints(series).R1).toBe(`${to} out`)
    isWhole(series)
    const back = done(series, { edit: 'remove-things', args: { parts: ['R2'], close: true } })
    expect(joints(back)).toEqual(joints(lowpass))
  })

  test('in its place, its wiring kept', () => {
    const coil = done(lowpass, { edit: 'replace-part', args: { part: 'R1', by: { kind: 'inductor', values: {} } } })
    expect(joints(coil)).toEqual({ V1: 'in 0', L1: 'in out', C1: 'out 0' })
    const amplifier = done(lowpass, { edit: 'replace-part', args: { part: 'R1', by: { kind: 'opamp', values: {} } } })
    expect(new NetMap(amplifier).netOf('U1', 'out')).toBe('out')
    isWhole(amplifier)
  })
})

describe('moving', () => {
  test('wires follow with their bends, and what is between moved parts goes with them', () => {
    const moved = done(lowpass, { edit: 'move-things', args: { parts: ['C1', 'GND2'], by: { x: 4, y: 2 } } })
    expect(joints(moved)).toEqual(joints(lowpass))
    expect(endPoint(moved, { part: 'C1', pin: 'a' })).toEqual({ x: 12, y: 4 })
    isWhole(moved)
  })

  test('a pin that comes to lie on another joins it', () => {
    const loose = done(lowpass, { edit: 'put-part', args: { part: resistor(1), at: { x: 20, y: 10, rotation: 0 } } })
    const at = endPoint(loose, { part: 'R1', pin: 'b' })!
    const joined = done(loose, { edit: 'move-things', args: { parts: ['R2'], by: { x: at.x - 18, y: at.y - 10 } } })
    expect(joints(joined).R2.split(' ')[0]).toBe('out')
    isWhole(joined)
  })

  test('a taken place is changed for the nearest that is free', () => {
    const onto = done(lowpass, { edit: 'put-part', args: { part: resistor(1), at: { x: 6, y: 0, rotation: 0 } } })
    expect(partOf(onto, 'R2').at).not.toMatchObject({ x: 6, y: 0 })
    expect(joints(onto).R1).toBe('in out')
  })

  test('four quarter turns, and mirroring twice, give the part as it was', () => {
    const turned = Array.from({ length: 4 }).reduce<Circuit>(
      (c) => done(c, { edit: 'turn-parts', args: { parts: ['R1'], turn: 90 } }),
      lowpass,
    )
    expect(partOf(turned, 'R1').at).toMatchObject({ rotation: 0 })
    const mirror: EditCall = { edit: 'turn-parts', args: { parts: ['C1'], turn: 'mirror' } }
    expect(partOf(done(lowpass, mirror, mirror), 'C1').at).toEqual(partOf(lowpass, 'C1').at)
    expect(joints(turned)).toEqual(joints(lowpass))
  })

  test('a stretch of a wire is moved across, its ends stay', () => {
    const far = done(lowpass, { edit: 'move-things', args: { parts: ['C1', 'GND2'], by: { x: 6, y: 3 } } })
    const wire = far.wires.find((w) => w.ends.some((e) => 'part' in e && e.part === 'C1' && e.pin === 'a'))!
    const slid = done(far, { edit: 'move-stretch', args: { wire: wire.id, stretch: 0, by: -2 } })
    const points = wirePoints(
      slid,
      slid.wires.find((w) => w.id === wire.id)!,
    )!
    expect([points[0], points.at(-1)]).toEqual([wirePoints(far, wire)![0], wirePoints(far, wire)!.at(-1)])
    expect(joints(slid)).toEqual(joints(lowpass))
  })

  test('parts on one line, and evenly spaced', () => {
    const places = [0, 9, 12].map((x, k) => ({ x: 30 + x, y: 20 + 3 * k, rotation: 0 as const }))
    const loose = places.reduce((c, at) => done(c, { edit: 'put-part', args: { part: resistor(1), at } }), lowpass)
    const ids = ['R2', 'R3', 'R4']
    const row = done(loose, { edit: 'align-parts', args: { parts: ids, to: 'row' } })
    expect(new Set(ids.map((id) => partOf(row, id).at!.y)).size).toBe(1)
    const even = done(row, { edit: 'align-parts', args: { parts: ids, to: 'even-row' } })
    const [a, b, c] = ids.map((id) => partOf(even, id).at!.x)
    // On the grid, so to one unit.
    expect(Math.abs(b - a - (c - b))).toBeLessThanOrEqual(1)
  })
})

describe('copies', () => {
  test('get free names, and nets of their own but for ground', () => {
    const piece = pieceOf(lowpass, new Set(['R1', 'C1', 'GND2']))
    const twice = done(lowpass, { edit: 'paste-things', args: { piece, at: { x: 30, y: 10 } } })
    expect(joints(twice)).toMatchObject({ R1: 'in out', C1: 'out 0', C2: 'out_2 0' })
    expect(joints(twice).R2.split(' ')[1]).toBe('out_2')
    isWhole(twice)
  })

  test('bring models and parameters; what says something else gets another name', () => {
    const with_ = done(lowpass, { edit: 'make-parameter', args: { part: 'R1', field: 'resistance', name: 'r' } })
    const piece = pieceOf(with_, new Set(['R1']))
    const other = done(lowpass, { edit: 'set-parameter', args: { name: 'r', value: 1 } })
    const pasted = done(other, { edit: 'paste-things', args: { piece } })
    expect(pasted.parameters).toEqual({ r: 1, r_2: 4700 })
    expect(partOf(pasted, 'R2').formulas).toEqual({ resistance: 'r_2' })
  })
})

describe('parameters', () => {
  const made = done(lowpass, { edit: 'make-parameter', args: { part: 'R1', field: 'resistance', name: 'r' } })
  const valueOf = (circuit: Circuit, id: string, field: string) =>
    flatten(circuit).elements.find((e) => e.name === id)!.values[field]

  test('made of a value, renamed wherever they are used, taken away again', () => {
    expect(made.parameters).toEqual({ r: 4700 })
    const used = done(made, { edit: 'set-formula', args: { part: 'C1', field: 'capacitance', formula: '470e-6/r' } })
    const renamed = done(used, { edit: 'rename-parameter', args: { from: 'r', to: 'series' } })
    expect(partOf(renamed, 'C1').formulas).toEqual({ capacitance: '470e-6/series' })
    expect(valueOf(renamed, 'C1', 'capacitance')).toBeCloseTo(1e-7, 20)
    const gone = done(renamed, { edit: 'remove-parameter', args: { name: 'series' } })
    expect([gone.parameters, partOf(gone, 'R1').values.resistance]).toEqual([{}, 4700])
    expect(partOf(gone, 'C1')).not.toHaveProperty('formulas')
  })

  test.each<[EditCall, string]>([
    [{ edit: 'set-parameter', args: { name: '2x', value: 1 } }, 'cannot be the name'],
    [{ edit: 'set-parameter', args: { name: 'r', value: 'r+1' } }, 'circle'],
    [{ edit: 'set-parameter', args: { name: 'q', value: 1, least: 2, most: 1 } }, 'before it begins'],
    [{ edit: 'rename-parameter', args: { from: 'x', to: 'y' } }, 'no parameter "x"'],
    [{ edit: 'make-parameter', args: { part: 'C1', field: 'capacitance', name: 'r' } }, 'already'],
    [{ edit: 'rename-part', args: { part: 'R1', to: 'c1' } }, 'There is a part "C1" already'],
    [{ edit: 'rename-part', args: { part: 'R1', to: '1 k' } }, 'cannot be the name'],
    [{ edit: 'set-properties', args: { parts: ['R1'], say: { model: 'none' } } }, 'no model "none"'],
    [
      { edit: 'draw-wire', args: { from: { part: 'R1', pin: 'a' }, to: { part: 'R1', pin: 'a' } } },
      'end where it begins',
    ],
    [{ edit: 'set-initial', args: { net: 'nowhere', voltage: 1 } }, 'no net "nowhere"'],
  ])('%j is refused', (call, message) => {
    expect(() => done(made, call)).toThrow(message)
  })
})

describe('scaling', () => {
  /** 1/(R·C) moves with the frequency, R with the impedance. */
  test('in frequency and in impedance, of all or of some', () => {
    const scaled = done(lowpass, { edit: 'scale-circuit', args: { frequency: 10, impedance: 2 } })
    expect(partOf(scaled, 'R1').values.resistance).toBe(9400)
    expect(partOf(scaled, 'C1').values.capacitance).toBeCloseTo(1e-7 / 20, 20)
    const some = done(lowpass, { edit: 'scale-circuit', args: { parts: ['R1'], frequency: 1, impedance: 2 } })
    expect([partOf(some, 'R1').values.resistance, partOf(some, 'C1').values.capacitance]).toEqual([9400, 1e-7])
  })
})

describe('the tip', () => {
  test('walks through parts and along wires, and over empty paper', () => {
    expect(walkFrom(lowpass, { part: 'R1', pin: 'b' }, 'left')).toEqual({ part: 'R1', pin: 'a' })
    expect(walkFrom(lowpass, { part: 'R1', pin: 'b' }, 'down')).toEqual({ part: 'C1', pin: 'a' })
    expect(walkFrom(lowpass, { part: 'R1', pin: 'a' }, 'left')).toEqual({ junction: 'J1' })
    expect(walkFrom(lowpass, { part: 'R1', pin: 'b' }, 'right')).toBeNull()
    expect(walkFrom(lowpass, { at: { x: 40, y: 40 } }, 'right')).toEqual({ at: { x: 42, y: 40 } })
  })

  test('goes on to the far pin of a part in series, and stays on its net otherwise', () => {
    const tip = { part: 'R1', pin: 'b' }
    const grown = (way: 'onwards' | 'ground') =>
      done(lowpass, { edit: 'grow-part', args: { from: tip, way, part: resistor(1) } })
    expect(tipAfter(lowpass, grown('onwards'), tip, true)).toEqual({ part: 'R2', pin: 'b' })
    expect(tipAfter(lowpass, grown('ground'), tip, false)).toEqual(tip)
    const without = done(lowpass, { edit: 'remove-things', args: { parts: ['R1'], close: false } })
    expect(tipAfter(lowpass, without, tip, false)).not.toEqual(tip)
  })
})
