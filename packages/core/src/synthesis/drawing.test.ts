import { expect, test } from 'vitest'
import { approximations, drawingOf, RESPONSES, shapes, topologies } from '../index.js'
import { collisions } from '../testing/collisions.js'
import { partTexts } from '../circuit/drawing/texts.js'
import { circuitOf, realizationOf } from '../testing/specified.js'

/** Grid units at the size that can just be read: a sheet of 880 by 620 pixels. */
const SHEET = { width: 85, height: 60 }

const SOME = ['butterworth', 'elliptic']

test.each(topologies.map((t) => t.id))('nothing lies on anything in a drawing: %s, all responses', (family) => {
  let count = 0
  const look = (raw: object) => {
    const circuit = circuitOf({ ...raw, realization: realizationOf(family) })
    if (!circuit) return
    count++
    expect(collisions(drawingOf(circuit, partTexts(circuit)))).toEqual([])
    // The same on a sheet on which long ones are folded.
    expect(collisions(drawingOf(circuit, partTexts(circuit), SHEET))).toEqual([])
  }
  // What sections there are follows from zeros and number of poles: a few approximations show all of them.
  const isActive = topologies.find((t) => t.id === family)!.family === 'active'
  for (const { id: response } of RESPONSES)
    for (const { id: approximation, shapesStopband } of approximations)
      for (const order of isActive ? [1, 2, 5] : [1, 2, 3, 4, 5, 6, 7, 8]) {
        if (isActive && !SOME.includes(approximation)) continue
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
