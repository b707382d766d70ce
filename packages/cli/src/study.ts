import type { StudySettings } from '@voskel/core'
import type { LoadedCircuit } from './io.js'

/** What is asked of a circuit's study; what is left out a design may say. */
export interface StudyOptions {
  input?: string
  output?: string
  temperature?: number
}

/** The options of a study, in words: of a netlist they are V1 (or the only source), the net out, 27 °C. */
export const INPUT = ['--input <source>', 'driving source (as the design says; V1, or the only one)'] as const
export const OUTPUT = ['--output <quantity>', 'node, a-b, i(R1) or z(V1) (as the design says; out)'] as const
export const TEMPERATURE = ['--temperature <degrees>', 'temperature of devices, °C (as the design says; 27)'] as const

const USUAL = { output: 'out', temperature: 27 } as const

/** The study as it is asked for, else as the design says it, else as usual. */
export function studied(
  { design }: Pick<LoadedCircuit, 'design'>,
  asked: StudyOptions,
): Pick<StudySettings, 'input'> & { readonly output: string; readonly temperature: number } {
  const { input = design?.study?.input, output, temperature } = asked
  return {
    ...(input !== undefined && { input }),
    output: output ?? design?.study?.output ?? USUAL.output,
    temperature: temperature ?? design?.study?.temperature ?? USUAL.temperature,
  }
}
