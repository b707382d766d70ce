import { approximate, type Circuit, parseSpec, realize, VoskelError } from '../index.js'

/** How a topology is asked for where nothing else is said. */
export const realizationOf = (id: string) => ({ family: id, ...(id === 'coupled-resonators' && { inductor: 0.05 }) })

/** The circuit of a specification; null where it is refused. Which are, everything.test.ts looks into. */
export function circuitOf(raw: object): Circuit | null {
  try {
    const spec = parseSpec(raw)
    return realize(spec, 'exact', approximate(spec)).circuit
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}
