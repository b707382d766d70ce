import { expect, test } from 'vitest'
import {
  approximate,
  approximations,
  type Circuit,
  drawingOf,
  parseSpec,
  realize,
  RESPONSES,
  shapes,
  topologies,
  VoskelError,
} from '../index.js'
import { collisions, textsOf } from '../testing/collisions.js'

/** Grid units at the size that can just be read: a sheet of 880 by 620 pixels. */
const SHEET = { width: 85, height: 60 }

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
    expect(collisions(drawingOf(circuit, textsOf(circuit)))).toEqual([])
    // The same on a sheet on which long ones are folded.
    expect(collisions(drawingOf(circuit, textsOf(circuit), SHEET))).toEqual([])
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
