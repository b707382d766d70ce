import { expect, test } from 'vitest'
import {
  approximate,
  approximations,
  type Circuit,
  effectiveValues,
  labelBox,
  netBoxes,
  overlap,
  parseSpec,
  placeLabels,
  realize,
  RESPONSES,
  scopeOf,
  shapes,
  symbolBox,
  topologies,
  valueText,
  VoskelError,
  wireBoxes,
} from '../index.js'

/** Square grid units below which two outlines only touch: a letter covers a fifth of one. */
const TOUCHING = 0.02

/** Whatever lies on something else in a drawing. */
function collisions(circuit: Circuit): string[] {
  const scope = scopeOf(circuit)
  const textOf = (part: Circuit['parts'][number]) => valueText(part, effectiveValues(part, scope))
  const places = placeLabels(circuit, textOf)
  const labels = circuit.parts.flatMap((part) => {
    const place = places.get(part.id)
    return place ? [{ what: `label of ${part.id}`, box: labelBox(part, textOf(part), place)! }] : []
  })
  const symbols = circuit.parts.map((part) => ({ of: part.id, what: part.id, box: symbolBox(part)! }))
  const nets = netBoxes(circuit).map((box) => ({ what: 'the name of a net', box }))
  const wires = circuit.wires.flatMap((wire) => {
    const ends = wire.ends.map((end) => ('part' in end ? end.part : end.junction))
    return wireBoxes({ ...circuit, wires: [wire] }).map((box) => ({ ends, what: `wire ${wire.id}`, box }))
  })
  const things = [...labels, ...symbols, ...nets]
  return [
    ...things.flatMap((a, k) => things.slice(k + 1).map((b) => [a, b] as const)),
    ...labels.flatMap((a) => wires.map((b) => [a, b] as const)),
    ...symbols.flatMap((a) => wires.filter((w) => !w.ends.includes(a.of)).map((b) => [a, b] as const)),
  ].flatMap(([a, b]) => (overlap(a.box, b.box) > TOUCHING ? [`${a.what} on ${b.what}`] : []))
}

const realizationOf = (id: string) => ({ family: id, ...(id === 'coupled-resonators' && { inductor: 0.05 }) })

/** The circuit of a specification; null where it is refused, which everything.test.ts looks into. */
function drawn(raw: object): Circuit | null {
  try {
    const spec = parseSpec(raw)
    return realize(spec, 'exact', approximate(spec)).circuit
  } catch (error) {
    expect(error).toBeInstanceOf(VoskelError)
    return null
  }
}

test.each(topologies.map((t) => t.id))('nothing lies on anything in a drawing: %s, all responses', (family) => {
  let count = 0
  const look = (raw: object) => {
    const circuit = drawn({ ...raw, realization: realizationOf(family) })
    if (!circuit) return
    count++
    expect(collisions(circuit)).toEqual([])
  }
  for (const { id: response } of RESPONSES)
    for (const { id: approximation, shapesStopband } of approximations)
      for (let order = 1; order <= 8; order++) {
        if (shapesStopband && response === 'allpass') continue
        look({
          response,
          approximation,
          order,
          passband: { edges: response.startsWith('band') ? [950, 1050] : [1000], ripple: 1 },
          ...(response !== 'allpass' && { stopband: { attenuation: 45 } }),
        })
      }
  for (const { id: response, fields } of shapes)
    look({ response, shape: Object.fromEntries(fields.flatMap((f) => ('default' in f ? [[f.id, f.default]] : []))) })
  expect(count).toBeGreaterThan(0)
})
