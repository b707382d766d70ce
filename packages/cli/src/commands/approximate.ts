import { type Complex, gainDecades, idealOf, type TransferFunction } from '@voskel/core'
import { emitJson, loadSpec, within } from '../io.js'
import type { Register } from './Command.js'

export const pairs = (roots: readonly Complex[]) => roots.map((r) => [r.re, r.im])

/** The gain of H(s); where no double holds it, null with its sign and the logarithm of its size. */
export function gainOf(h: TransferFunction) {
  if (h.gainExponent === undefined) return { gain: h.gain }
  return { gain: null, gainSign: Math.sign(h.gain), gainLog10: gainDecades(h) }
}

export const registerApproximate: Register = (program) => {
  program
    .command('approximate')
    .description('the response of a specification as poles, zeros and gain: H(s) = gain·∏(s − z)/∏(s − p), s in rad/s')
    .argument('<SPEC>', 'specification JSON, or - for standard input')
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: { out?: string }) => {
      const { source, spec } = loadSpec(file)
      const { order, transfer } = within(source, () => idealOf(spec))
      emitJson({ order, poles: pairs(transfer.poles), zeros: pairs(transfer.zeros), ...gainOf(transfer) }, options.out)
    })
}
