import { type Circuit, circuitEdit, parseSpec, realize, topologies, VoskelError } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { GRID, nodeSize, type PartData, pinInNode, sceneOf, valuesIn } from './scene'

const drawn = (family: string, response = 'lowpass') =>
  realize(
    parseSpec({
      response,
      approximation: 'butterworth',
      order: 3,
      passband: { edges: [1000] },
      realization: { family },
    }),
  ).circuit
const ladder = drawn('lc-ladder')
const dataOf = (circuit: Circuit, id: string) =>
  sceneOf(circuit).nodes.find((n) => n.type === 'part' && (n.data as PartData).part.id === id)!.data as PartData

describe('the scene of a circuit', () => {
  test('has a node for everything that has a place, and every wire ends at two of them', () => {
    for (const { id } of topologies) {
      let circuit: Circuit
      try {
        circuit = drawn(id, ['lattice', 'bridged-t'].includes(id) ? 'allpass' : 'lowpass')
      } catch (error) {
        // Families that make no low-pass are not asked for one here.
        expect(error).toBeInstanceOf(VoskelError)
        continue
      }
      const { nodes, edges } = sceneOf(circuit)
      expect(nodes).toHaveLength(circuit.parts.length + circuit.junctions.length + circuit.labels.length)
      expect(edges).toHaveLength(circuit.wires.length)
      const ids = new Set(nodes.map((n) => n.id))
      expect(ids.size).toBe(nodes.length)
      for (const { source, target } of edges) expect([ids.has(source), ids.has(target)]).toEqual([true, true])
    }
  })

  test('keeps apart a part, a junction and a net that have one name', () => {
    const [part, junction, label] = [ladder.parts[0]!, ladder.junctions[0]!, ladder.labels[0]!]
    const named = JSON.parse(
      JSON.stringify(ladder)
        .replaceAll(`"junction":"${junction.id}"`, `"junction":"${part.id}"`)
        .replaceAll(`"id":"${junction.id}"`, `"id":"${part.id}"`)
        .replaceAll(`"id":"${label.id}"`, `"id":"${part.id}"`),
    ) as Circuit
    const { nodes, edges } = sceneOf(named)
    expect(new Set(nodes.map((n) => n.id)).size).toBe(nodes.length)
    const before = sceneOf(ladder)
    const ends = (of: typeof before) =>
      of.edges.map(({ source, target }) => [source, target].map((id) => of.nodes.findIndex((n) => n.id === id)))
    expect(ends({ nodes, edges })).toEqual(ends(before))
  })

  test('wires begin and end at the pins that they join', () => {
    const { nodes, edges } = sceneOf(ladder)
    const pins = ladder.parts.flatMap((part) => {
      const { position } = nodes.find((n) => n.type === 'part' && (n.data as PartData).part.id === part.id)!
      const place = pinInNode(part, [-2, 0])
      return part.kind === 'ground' ? [] : [{ x: position.x + place.left, y: position.y + place.top }]
    })
    const points = edges.flatMap((e) => [e.data.pieces[0][0], e.data.pieces.at(-1).at(-1)])
    for (const pin of pins) expect(points).toContainEqual(pin)
  })

  test('dots mark where three wires meet, not where a line runs on', () => {
    const meeting = (id: string) =>
      ladder.wires.flatMap((w) => w.ends).filter((e) => 'junction' in e && e.junction === id).length
    for (const node of sceneOf(ladder).nodes.filter((n) => n.type === 'junction'))
      expect(node.data.dot).toBe(meeting(node.id.replace('junction ', '')) > 2)
  })

  test('a dot where two wires end at one pin', () => {
    const bridged = circuitEdit({ edit: 'ground-net', args: { net: 'in' } }).apply(ladder)
    const dots = (circuit: Circuit) =>
      sceneOf(circuit)
        .nodes.filter((n) => n.id.startsWith('pin '))
        .map((n) => n.id)
    expect(dots(ladder)).toEqual([])
    expect(dots(bridged)).toEqual(['pin V1 plus'])
  })

  test('gives a place to a part that has none, and wires that lead there', () => {
    const { at: _none, ...bare } = ladder.parts[1]!
    const { nodes, edges } = sceneOf({ ...ladder, parts: ladder.parts.map((p) => (p.id === bare.id ? bare : p)) })
    expect(nodes).toHaveLength(sceneOf(ladder).nodes.length)
    expect(edges).toHaveLength(ladder.wires.length)
  })

  test('is empty where nothing has a place', () => {
    const { nodes } = sceneOf({ ...ladder, parts: [{ id: 'R1', kind: 'resistor', values: {} }], wires: [], labels: [] })
    expect(nodes.filter((n) => n.type === 'part')).toEqual([])
  })

  test('a chain too long for its sheet goes on in rows, named where it was cut', () => {
    const long = realize(
      parseSpec({
        response: 'lowpass',
        approximation: 'butterworth',
        order: 10,
        passband: { edges: [1000] },
        realization: { family: 'sallen-key' },
      }),
    ).circuit
    const [one, rows] = [sceneOf(long), sceneOf(long, { width: 90, height: 50 })]
    const named = rows.nodes.filter((n) => n.id.startsWith('row '))
    expect(named.length).toBeGreaterThan(0)
    expect(one.nodes.some((n) => n.id.startsWith('row '))).toBe(false)
    for (const { data } of named.filter((n) => n.data.row === 'ends'))
      expect(named.some((n) => n.data.row === 'begins' && n.data.name === data.name)).toBe(true)
    const right = ({ nodes }: typeof one) => Math.max(...nodes.map((n) => n.position.x))
    expect(right(rows)).toBeLessThan(right(one) / 1.4)
    // A cut wire is still one wire, in two pieces.
    expect(rows.edges).toHaveLength(one.edges.length)
    expect(rows.edges.filter((e) => e.data.pieces.length === 2)).toHaveLength(named.length / 2)
  })
})

describe('a part on the sheet', () => {
  test('is as large as its symbol, turned with it', () => {
    const lying = { id: 'R1', kind: 'resistor', values: {}, at: { x: 0, y: 0, rotation: 0 as const } }
    const { width, height } = nodeSize(lying)
    expect(width).toBe(4 * GRID)
    expect(nodeSize({ ...lying, at: { x: 0, y: 0, rotation: 90 } })).toEqual({ width: height, height: width })
  })

  test('says its value, or the formula that cannot be worked out', () => {
    expect(dataOf(ladder, 'RS').text).toBe('50.00\u00a0Ω')
    const parts = ladder.parts.map((p) => (p.id === 'RS' ? { ...p, formulas: { resistance: '2*unknown' } } : p))
    const broken = { ...ladder, parts }
    expect(dataOf(broken, 'RS')).toMatchObject({ text: '2*unknown', values: null })
    expect(dataOf(broken, 'RL').text).toBe(dataOf(ladder, 'RL').text)
    const twice = { ...ladder, models: { m: { kind: 'diode', values: {} }, M: { kind: 'diode', values: {} } } }
    expect(valuesIn(twice)(ladder.parts[1]!)).toBeNull()
  })
})
