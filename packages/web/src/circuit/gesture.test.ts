import { blankCircuit, circuitEdit } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { type Gesture, IDLE, moved, pressed, released } from './gesture'
import { Hits, NOTHING_CHOSEN, toggled } from './hit'
import { sceneOf } from './scene'

const grown = (way: 'onwards' | 'ground', part: object, from: object, on = blankCircuit()) =>
  circuitEdit({ edit: 'grow-part', args: { from, way, part } } as never).apply(on)
const circuit = grown(
  'ground',
  { kind: 'capacitor', values: { capacitance: 1e-7 } },
  { part: 'R1', pin: 'b' },
  grown('onwards', { kind: 'resistor', values: { resistance: 4700 } }, { junction: 'J1' }),
)
const scene = sceneOf(circuit)
const hits = new Hits(scene)
const middle = (id: string) => {
  const { box } = scene.symbols.find((s) => s.id === id)!
  return { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 }
}

/** Pixels of a grid unit. */
const SCALE = 16

/** A hand that presses at one place, moves over others, and is lifted. */
function hand(from: { x: number; y: number }, ...over: { x: number; y: number }[]) {
  const begun: Gesture = pressed(hits.at(from), from, NOTHING_CHOSEN, false)
  return released(over.reduce((g, at) => moved(g, at, SCALE, (p) => hits.at(p)), begun))
}

describe('what lies under a finger', () => {
  test('the smallest first: a pin, words, a symbol, a wire, paper', () => {
    expect(hits.at({ x: 8.1, y: 0.1 })).toMatchObject({ kind: 'pin', end: { part: 'R1', pin: 'b' } })
    expect(hits.at(middle('R1'))).toEqual({ kind: 'part', part: 'R1' })
    const { box } = scene.labels.find((l) => l.id === 'R1')!
    expect(hits.at({ x: (box.left + box.right) / 2, y: box.top + 0.3 })).toMatchObject({ kind: 'label', part: 'R1' })
    expect(hits.at({ x: 0.2, y: 1.2 })).toMatchObject({ kind: 'wire', at: { x: 0, y: 1 } })
    expect(hits.at({ x: 30.4, y: 20.4 })).toEqual({ kind: 'paper', at: { x: 30, y: 20 } })
  })

  test('a frame chooses what lies in it', () => {
    const { parts, wires } = hits.inside({ left: 3.5, right: 12, top: -3, bottom: 9 })
    expect([...parts].toSorted()).toEqual(['C1', 'GND2', 'R1'])
    expect(wires.size).toBeGreaterThan(0)
  })

  test('what is chosen twice is not', () => {
    const one = { ...NOTHING_CHOSEN, parts: new Set(['R1', 'C1']) }
    const other = { ...NOTHING_CHOSEN, parts: new Set(['C1', 'V1']) }
    expect([...toggled(one, other).parts].toSorted()).toEqual(['R1', 'V1'])
  })
})

describe('a hand', () => {
  test('that presses and lifts chooses, or moves the tip', () => {
    expect(hand(middle('C1'))).toMatchObject({ kind: 'choose', chosen: { parts: new Set(['C1']) } })
    expect(hand({ x: 8, y: 0 })).toMatchObject({ kind: 'choose', tip: { part: 'R1', pin: 'b' } })
    expect(hand({ x: 25, y: 25 })).toMatchObject({ kind: 'choose', tip: { at: { x: 25, y: 25 } } })
  })

  test('that trembles moves nothing', () => {
    const at = middle('R1')
    expect(hand(at, { x: at.x + 0.1, y: at.y })).toMatchObject({ kind: 'choose' })
  })

  test('that drags a part moves it by whole steps of the grid', () => {
    const at = middle('R1')
    expect(hand(at, { x: at.x + 1, y: at.y }, { x: at.x + 3.2, y: at.y + 1.9 })).toEqual({
      kind: 'edit',
      call: { edit: 'move-things', args: { parts: ['R1'], by: { x: 3, y: 2 } } },
    })
  })

  test('that pulls from a pin joins what it is let go over, or asks what comes there', () => {
    const pin = { x: 8, y: 0 }
    expect(hand(pin, { x: 6, y: 4 }, { x: 0, y: 1.1 })).toMatchObject({
      kind: 'edit',
      call: { edit: 'draw-wire', args: { from: { part: 'R1', pin: 'b' }, to: { at: { x: 0, y: 1 } } } },
    })
    expect(hand(pin, { x: 14, y: 0 }, { x: 20, y: 0 })).toEqual({
      kind: 'say',
      from: { part: 'R1', pin: 'b' },
      at: { x: 20, y: 0 },
    })
    const { box } = scene.names.find((n) => n.name === 'in')!
    expect(hand(pin, { x: 7, y: -2 }, { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 })).toMatchObject({
      call: { edit: 'name-net', args: { name: 'in' } },
    })
  })

  test('that drags over paper draws a frame, and one that does nothing leaves all as it was', () => {
    expect(hand({ x: 20, y: 20 }, { x: 24, y: 26 })).toMatchObject({ kind: 'frame', to: { x: 24, y: 26 } })
    expect(released(IDLE)).toEqual({ kind: 'nothing' })
    expect(moved(IDLE, { x: 1, y: 1 }, SCALE, (p) => hits.at(p))).toBe(IDLE)
  })

  test('that drags a handle of a chosen wire slides its stretch', () => {
    const wire = scene.wires.find((w) => w.pieces[0]!.length > 2)!
    const [a, b] = wire.pieces[0]!
    const at = { x: (a!.x + b!.x) / 2, y: (a!.y + b!.y) / 2 }
    const hit = hits.at(at, new Set([wire.id]))
    const slid = moved(pressed(hit, at, NOTHING_CHOSEN, false), { x: at.x - 3, y: at.y }, SCALE, (p) => hits.at(p))
    expect(released(slid)).toEqual({ kind: 'slide', wire: wire.id, stretch: 0, by: { x: -3, y: 0 } })
  })
})
