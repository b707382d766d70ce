import { describe, expect, test } from 'vitest'
import { arranged } from '../../circuit/drawing/arrange/index.js'
import { drawingOf } from '../../circuit/drawing/index.js'
import { partTexts } from '../../circuit/drawing/texts.js'
import { NetMap } from '../../circuit/NetMap.js'
import { cascadeOf, usualCircuits } from '../../testing/usualCircuits.js'
import { readNetlist } from '../netlist/readNetlist.js'
import { type DrawingJson, drawingJson } from './drawingJson.js'
import { drawingSvg } from './drawingSvg.js'

type Place = readonly [number, number]
type Corners = readonly [number, number, number, number]

/** A half of a letter's stroke: what overlaps by less only touches. */
const TOUCHING = 0.01

const overlap = (a: Corners, b: Corners) =>
  Math.max(0, Math.min(a[2], b[2]) - Math.max(a[0], b[0])) * Math.max(0, Math.min(a[3], b[3]) - Math.max(a[1], b[1]))

const isOn = ([x, y]: Place, a: Place, b: Place) =>
  x >= Math.min(a[0], b[0]) && x <= Math.max(a[0], b[0]) && y >= Math.min(a[1], b[1]) && y <= Math.max(a[1], b[1])

/** Pins that hang together by the numbers alone: what touches is joined, and what bears the same name. */
function groupsOf({ parts, wires, nets }: DrawingJson): string[] {
  const up = new Map<string, string>()
  const find = (key: string): string => {
    const next = up.get(key)
    return next === undefined || next === key ? key : find(next)
  }
  const join = (a: string, b: string) => void up.set(find(a), find(b))
  const pins = parts.flatMap((p) =>
    Object.entries(p.pins).map(([pin, at]) => ({ key: `${p.id}.${pin}`, kind: p.kind, at })),
  )
  const ends = [
    ...pins.map(({ key, at }) => ({ key, at })),
    ...wires.flatMap(({ points }, k) => points.map((at) => ({ key: `wire ${k}`, at }))),
    ...nets.map(({ name, at }) => ({ key: `name ${name}`, at })),
  ]
  for (const a of ends) {
    for (const b of ends) if (a !== b && a.at[0] === b.at[0] && a.at[1] === b.at[1]) join(a.key, b.key)
    wires.forEach(({ points }, k) =>
      points.slice(1).forEach((b, n) => {
        if (isOn(a.at, points[n], b)) join(a.key, `wire ${k}`)
      }),
    )
  }
  for (const { key, kind } of pins) if (kind === 'ground') join(key, 'name 0')
  const groups = new Map<string, string[]>()
  for (const { key, kind } of pins)
    if (kind !== 'ground') groups.set(find(key), [...(groups.get(find(key)) ?? []), key])
  return [...groups.values()].map((g) => g.sort().join(' ')).sort()
}

function drawn(netlist: string, sheet?: { width: number; height: number }) {
  const { circuit } = readNetlist(netlist)
  const textOf = partTexts(circuit)
  const drawing = drawingOf(arranged(circuit, textOf), textOf, sheet)
  const nets = new NetMap(circuit)
  const pins = circuit.parts.flatMap((p) =>
    Object.keys(drawingJson(drawing, textOf).parts.find((d) => d.id === p.id)!.pins).map((pin) => ({
      key: `${p.id}.${pin}`,
      net: nets.netOf(p.id, pin) ?? `${p.id}.${pin}`,
    })),
  )
  const byNet = new Map<string, string[]>()
  for (const { key, net } of pins) byNet.set(net, [...(byNet.get(net) ?? []), key])
  const said = [...byNet.values()].map((g) => g.sort().join(' ')).sort()
  return { json: drawingJson(drawing, textOf), svg: drawingSvg(drawing, textOf), said, circuit }
}

describe('a drawing as numbers', () => {
  test.each(usualCircuits)('$name: connects what the netlist says, and nothing lies on anything', ({ netlist }) => {
    const { json, said } = drawn(netlist)
    expect(groupsOf(json)).toEqual(said)
    for (const { points } of json.wires)
      points.slice(1).forEach((b, k) => expect(points[k][0] === b[0] || points[k][1] === b[1]).toBe(true))
    const labels = json.parts.flatMap((p) => p.labels.map((l) => l.box))
    const words = [...labels, ...json.nets.map((n) => n.box)]
    const symbols = json.parts.map((p) => p.box)
    words.forEach((box, k) => {
      for (const other of [...words.slice(k + 1), ...symbols]) expect(overlap(box, other)).toBeLessThan(TOUCHING)
    })
    const lines = json.wires.flatMap(({ points }) =>
      points.slice(1).map((b, k): Corners => {
        const a = points[k]
        return [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[0], b[0]), Math.max(a[1], b[1])]
      }),
    )
    const isInside = ([left, top, right, bottom]: Corners, [x0, y0, x1, y1]: Corners) =>
      x1 > left && x0 < right && y1 > top && y0 < bottom
    for (const line of lines) {
      for (const box of labels) expect(isInside(box, line)).toBe(false)
      for (const box of symbols) expect(isInside(box, line)).toBe(false)
    }
  })

  test('every part has its label, every meeting of three its dot', () => {
    const { json, circuit } = drawn(usualCircuits[0].netlist)
    for (const { id } of circuit.parts) expect(json.parts.find((p) => p.id === id)!.labels[0].text).toContain(id)
    // The ladder's three shunt arms and its load.
    expect(json.junctions).toHaveLength(4)
  })

  test('folded, the names stand at both ends of each cut', () => {
    const { json } = drawn(cascadeOf(12), { width: 90, height: 60 })
    const names = json.nets.map((n) => n.name).filter((n) => n !== 'in' && n !== 'out')
    expect(names.length).toBeGreaterThan(0)
    for (const name of names) expect(names.filter((n) => n === name)).toHaveLength(2)
  })
})

describe('a drawing as a picture', () => {
  test('well-formed, with every name, and what could be markup as letters', () => {
    const { svg } = drawn('A & B <i>\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 1n\n.end\n')
    expect(svg).toMatch(/^<svg xmlns="http:\/\/www.w3.org\/2000\/svg" /)
    expect(svg).toContain('<title>A &amp; B &lt;i&gt;</title>')
    for (const word of ['V1', 'R1', 'C1', 'in', 'out']) expect(svg).toContain(`>${word}<`)
    const [opened, closed] = [/<[a-z][^>]*[^/]>/g, /<\/[a-z]+>/g].map((of) => svg.match(of)!.length)
    expect(opened).toBe(closed)
    expect(svg).not.toMatch(/NaN|undefined|null/)
  })
})
