import type { Circuit, End, Part } from '../../circuit/circuit.js'
import { IDEAL_OPAMP_GAIN } from '../../circuit/parts/PartKind.js'

/** The supply, V, where the amplifiers' swing does not say more, and the resistors and capacitor of its middle. */
const SUPPLY = 5
const DIVIDER = 100e3
const STEADY = 10e-6

/** The name of the net at the middle of the supply. */
const MIDDLE = 'mid'

/** Room between a drawing and what makes its middle, in grid units. */
const APART = 8

/**
 * A circuit for a single supply: what was grounded stands at its middle, which two resistors and a follower make. The input
 * source stands there, too: what drives the circuit must, or come through a capacitor.
 */
export function biased(circuit: Circuit, model: Readonly<Record<string, number>>): Circuit {
  const swing = model.outputHigh
  const supply = swing === undefined ? SUPPLY : Math.max(SUPPLY, 2 * swing)
  const isReal = Object.keys(model).length > 1 || model.gain < IDEAL_OPAMP_GAIN
  const grounds = new Map(circuit.parts.filter((p) => p.kind === 'ground').map((p) => [p.id, p.at!]))
  const junctions = [...circuit.junctions]
  const labels = [...circuit.labels]
  const middle = (at: { x: number; y: number }): End => {
    const id = `M${labels.length + 1}`
    junctions.push({ id, at: { x: at.x, y: at.y } })
    labels.push({ id: `N${labels.length + 1}`, name: MIDDLE, end: { junction: id } })
    return { junction: id }
  }
  const moved = (end: End): End => {
    const at = 'part' in end ? grounds.get(end.part) : undefined
    return at ? middle(at) : end
  }
  const wires: Circuit['wires'] = circuit.wires.map((w) => ({ ...w, ends: [moved(w.ends[0]), moved(w.ends[1])] }))
  const placed = circuit.parts.flatMap((p) => (p.at ? [p.at] : []))
  const [x, y] = [Math.min(...placed.map((p) => p.x)), Math.max(...placed.map((p) => p.y)) + APART]
  const part = (
    id: string,
    kind: string,
    values: Part['values'],
    px: number,
    py: number,
    rotation: 0 | 90 = 0,
  ): Part => ({
    id,
    kind,
    values,
    at: { x: x + px, y: y + py, rotation },
  })
  const wire = (from: End, to: End, ...bends: [number, number][]) =>
    wires.push({
      id: `W${wires.length + 1}`,
      ends: [from, to],
      ...(bends.length > 0 && { bends: bends.map(([bx, by]) => ({ x: x + bx, y: y + by })) }),
    })
  const pin = (part: string, pin: string): End => ({ part, pin })
  const tap: End = { junction: 'MT' }
  const out: End = { junction: 'MO' }
  junctions.push({ id: 'MT', at: { x: x + 8, y: y + 7 } }, { id: 'MO', at: { x: x + 28, y: y + 8 } })
  wire(pin('VS', 'plus'), pin('RM1', 'a'), [0, 0], [8, 0])
  wire(pin('RM1', 'b'), tap)
  wire(tap, pin('RM2', 'a'))
  wire(pin('UM', 'out'), out)
  wire(pin('UM', 'minus'), out, [20, 9], [20, 12], [28, 12])
  wire(pin('VS', 'minus'), pin('GNDS', 'g'))
  wire(pin('RM2', 'b'), pin('GNDM', 'g'))
  const steady: End = { junction: 'MC' }
  junctions.push({ id: 'MC', at: { x: x + 15, y: y + 7 } })
  wire(tap, steady)
  wire(steady, pin('UM', 'plus'))
  wire(steady, pin('CM', 'a'))
  wire(pin('CM', 'b'), pin('GNDC', 'g'))
  labels.push({ id: `N${labels.length + 1}`, name: MIDDLE, end: out })
  const { parts } = circuit
  return {
    ...circuit,
    parts: [
      ...parts.filter((p) => p.kind !== 'ground'),
      part('VS', 'voltage-source', { bias: supply, acMagnitude: 0, acPhase: 0 }, 0, 7, 90),
      part('RM1', 'resistor', { resistance: DIVIDER }, 8, 3, 90),
      part('RM2', 'resistor', { resistance: DIVIDER }, 8, 11, 90),
      part('CM', 'capacitor', { capacitance: STEADY }, 15, 11, 90),
      { ...part('UM', 'opamp', {}, 24, 8), model: 'amplifier' },
      part('GNDS', 'ground', {}, 0, 10),
      part('GNDM', 'ground', {}, 8, 14),
      part('GNDC', 'ground', {}, 15, 14),
    ],
    wires,
    junctions,
    labels,
    ...(isReal && {
      models: {
        ...circuit.models,
        amplifier: {
          kind: 'opamp',
          values: {
            ...model,
            // On one supply an amplifier whose inputs are alike rests at its middle, not at ground.
            resting: supply / 2,
            ...(swing !== undefined && { outputHigh: supply / 2 + swing, outputLow: supply / 2 - swing }),
          },
        },
      },
    }),
  }
}
