import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit } from '../circuit.js'
import { NetMap } from '../NetMap.js'
import { partKind } from '../parts/index.js'
import { flatten } from '../flatten.js'
import type { Check, Finding } from './Check.js'
import { feedback } from './feedback.js'
import { dcPath } from './ground.js'
import { leftOut } from './leftOut.js'
import { singleConnection } from './singleConnection.js'
import { usualValues } from './usualValues.js'
import { voltageLoop } from './voltageLoop.js'

/** Every check. A new one is one file beside these and one line here. */
export const checks: readonly Check[] = [dcPath, voltageLoop, feedback, singleConnection, usualValues, leftOut]

/**
 * Everything that is wrong with a circuit or worth a look, errors first; empty where nothing is.
 *
 * @param made synthesis made the circuit, or most of it: what it means to do is not worth a look
 */
export function checkCircuit(circuit: Circuit, made = false): Finding[] {
  if (circuit.parts.length === 0) return []
  try {
    const flat = flatten(circuit)
    const findings = checks.flatMap((check) => check.find(circuit, flat, made))
    return findings.sort((a, b) => Number(a.severity === 'warning') - Number(b.severity === 'warning'))
  } catch (error) {
    // What flattening refuses (no ground, a duplicate name, a circle) is a finding, too.
    if (error instanceof VoskelError) return [findingOf(error, circuit)]
    throw error
  }
}

function findingOf(error: VoskelError, circuit: Circuit): Finding {
  const { part, net } = error.place
  const common = error.code === 'NO_GROUND' ? returnOf(circuit) : null
  return {
    check: error.code.toLowerCase().replace(/_/g, '-'),
    severity: 'error',
    message: error.message,
    fix: error.remedy,
    parts: part ? [part] : [],
    nets: net ? [net] : [],
    ...(common !== null && { remedy: { edit: 'ground-net' as const, args: { net: common } } }),
    ...(part && { remedy: { look: part } }),
  }
}

/** Where a circuit without a ground most likely wants it: where its first source returns to. */
function returnOf(circuit: Circuit): string | null {
  const source = circuit.parts.find((p) => partKind(p.kind, p.id).takesWaveform)
  const [, back] = source ? partKind(source.kind).pins : []
  const net = source && back !== undefined ? new NetMap(circuit).netOf(source.id, back) : null
  return net ?? circuit.labels[0]?.name ?? null
}
