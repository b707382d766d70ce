import { GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { type Drive, element, inputSource } from './elements.js'
import type { Mna, Probe } from './mna.js'

/** A port with its own resistor. */
export interface Port {
  /** Index of the resistor among the elements. */
  readonly resistor: number
  /** Ω */
  readonly reference: number
}

/** The port at which the source drives, through its resistor. */
export interface SourcePort extends Port {
  /** The voltage along the resistor, counted as the current into the port's plus; that is the net which is not ground. */
  readonly drop: Probe
  /** 1 where the source drives the port's plus, −1 where it drives the other way. */
  readonly sign: 1 | -1
}

/** The port that the load's resistor closes. */
export interface LoadPort extends Port {
  readonly voltage: Probe
  /** 1 A into the port. */
  readonly drive: Drive
}

/**
 * The port between the input source's resistor and what it drives.
 *
 * @throws VoskelError `ARGUMENT` where the source is none of voltage, the part is no plain resistor or not in series with it
 */
export function sourcePort(mna: Mna, name: string, input?: string): SourcePort {
  const source = inputSource(mna, input)
  if (source.element.kind.id !== 'voltage-source')
    throw refused(
      `${source.element.name} is a current source.`,
      'Drive the two-port by a voltage source in series with its resistor.',
    )
  const { index, nodes, reference, name: own } = resistor(mna, name)
  // Ground joins everything: the resistor in series is at a pin of the source that is not grounded.
  const [plus, minus] = source.element.nodes
  const joined = [plus, minus].filter((n) => n !== GROUND).find((n) => nodes.includes(n))
  if (joined === undefined)
    throw refused(
      `${own} is not in series with ${source.element.name}.`,
      'Name the resistor that is joined to the source.',
    )
  const [near, far] = joined === nodes[0] ? nodes : [nodes[1], nodes[0]]
  // The network hangs between the resistor's far end and the source's other pin; the resistor may lie in the way back.
  const other = joined === plus ? minus : plus
  const isWayBack = far === GROUND || (joined === minus && other !== GROUND)
  const drop = isWayBack ? across(far, near) : across(near, far)
  return { resistor: index, reference, drop, sign: (joined === plus) === isWayBack ? -1 : 1 }
}

/** The port that a resistor closes, counted from the net that is not ground. @throws VoskelError `ARGUMENT` */
export function loadPort(mna: Mna, name: string): LoadPort {
  const { index, nodes, reference } = resistor(mna, name)
  const [one, other] = nodes[0] === GROUND ? [nodes[1], GROUND] : nodes
  const drive = (
    [
      [one, 1],
      [other, -1],
    ] as const
  ).filter(([row]) => row !== GROUND)
  return { resistor: index, reference, voltage: across(one, other), drive }
}

/** Ω of the resistors that close ports. @throws VoskelError `ARGUMENT` */
export const portReferences = (mna: Mna, names: readonly string[]): number[] =>
  names.map((name) => resistor(mna, name).reference)

/** @throws VoskelError `ARGUMENT` */
export function refuseOnePort({ resistor }: SourcePort, load: LoadPort): void {
  if (resistor === load.resistor)
    throw refused('Both ports name one resistor.', 'Name the source’s resistor and the load’s.')
}

const across = (p: number, q: number): Probe =>
  (
    [
      [p, 1, 0],
      [q, -1, 0],
    ] as const
  ).filter(([column]) => column !== GROUND)

function resistor(mna: Mna, name: string) {
  const { element: found, index } = element(mna, name)
  if (found.kind.id !== 'resistor')
    throw refused(`${found.name} is no resistor.`, 'Name the resistors of the source and of the load.')
  // What is in series with the resistance inside the part would belong to the two-port.
  const current = mna.currents.get(index)!
  if (current.some(([, , c]) => c !== 0) || mna.branches.has(index))
    throw refused(
      `${found.name} has an inductance or a capacitance of its own.`,
      'Name a plain resistor, and draw the rest as parts.',
    )
  const reference = 1 / Math.abs(current[0][1])
  return { index, nodes: found.nodes, reference, name: found.name }
}

const refused = (problem: string, fix: string) => new VoskelError('ARGUMENT', { problem, fix })
