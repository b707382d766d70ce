import { isLoopGain, type LayerText, partKind } from '@voskel/core'
import { type LayerTag, netPlaces, tagsAt } from './operatingLayer'
import type { Scene } from './scene'

/** What is the input and what the output, as signals and sources say it. */
export interface Roles {
  readonly input: string | null
  readonly output: string
}

const USUAL_OUTPUT = 'v(out)'

/**
 * Words on the drawing that say which source is the input and which net, pair or part the output: where that does not go
 * without saying, with one source and a net `out`.
 */
export function rolesOf(scene: Scene, { input, output }: Roles): LayerTag[] {
  const { circuit } = scene.drawing
  const texts: LayerText[] = []
  const sources = circuit.parts.filter((p) => partKind(p.kind).takesWaveform)
  const driving = sources.find((p) => p.id === input)
  const opensLoop = isLoopGain(output)
  if (driving?.at && (sources.length > 1 || opensLoop))
    texts.push({ lines: [opensLoop ? 'loop opened here: its gain is the output' : 'input'], at: driving.at })
  if (output !== USUAL_OUTPUT && !opensLoop) {
    const [, kind, of] = /^([vizp])\((.*)\)$/.exec(output) ?? []
    const names = of?.split(',').map((n) => n.trim().replace(/^"|"$/g, '')) ?? []
    const places = netPlaces(scene)
    for (const [k, name] of names.entries()) {
      const at = kind === 'v' ? places.get(name) : circuit.parts.find((p) => p.id === name)?.at
      const sign = names.length < 2 ? '' : k === 0 ? ' +' : ' −'
      const what = kind === 'v' ? '' : { i: ': its current', z: ': its impedance', p: ': its power' }[kind!]
      if (at) texts.push({ lines: [`output${sign}${what}`], at })
    }
  }
  return tagsAt(
    scene,
    [],
    texts.map((t) => ({ ...t, kind: 'role' })),
  )
}
