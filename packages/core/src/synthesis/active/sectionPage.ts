import type { Circuit } from '../../circuit/circuit.js'
import { type Complex, complex } from '../../numeric/complex.js'
import { quadraticRoots } from '../../numeric/roots.js'
import { Line } from '../Line.js'
import { HALF, Sketch, type Values } from '../Sketch.js'
import { type Biquad, biquadOf, levelOf } from './biquad.js'
import { texOf } from './closedForm.js'
import type { Factor } from './factors.js'
import { SECTION_FAMILIES, sectionsOf } from './families.js'
import { drawFigure } from './Figure.js'
import { planSection, type Polynomial, type SectionKind, sectionSensitivities, slotKind } from './SectionKind.js'

/** A section alone between an ideal source and an open end. */
export function sectionAlone(kind: SectionKind, values: Values): Circuit {
  const sketch = new Sketch(values)
  const line = new Line(sketch)
  const place = (id: string, x: number, y: number, rotation?: 0 | 90 | 180 | 270) =>
    sketch.valued(id, slotKind(id), values[id], x, y, rotation)
  const way = kind.entrance
  if (way === null) line.tap(2)
  else {
    line.through(place(way, line.x + 2 + HALF, line.y))
    line.tap(1)
  }
  drawFigure(
    line,
    kind.figure((part) => part in values),
    place,
  )
  line.finish()
  return sketch.circuit(kind.name)
}

/** A page that explains one kind of section, and its drawing for an example. */
export interface SectionPage {
  readonly markdown: string
  readonly circuit: Circuit
}

/** ω₀ of the examples, rad/s, and their capacitors, F. */
const W = 2 * Math.PI * 1000
const SIZE = 15e-9

/** Q of the examples, the first that a section takes. */
const QS = [2, 10]

function exampleOf(kind: SectionKind): { wanted: Biquad; values: Values } {
  const first = [[], [complex(0)], [complex(W)], [complex(-2 * W)]].map((zeros): Factor => ({
    poles: [complex(-W)],
    zeros,
  }))
  const second = QS.flatMap((q) => {
    const poles = quadraticRoots(W, W / q)
    const zeros: Complex[][] = [
      [],
      [complex(0)],
      [complex(0), complex(0)],
      quadraticRoots(1.5 * W, 0),
      quadraticRoots(W, 0),
      poles.map((p) => complex(-p.re, p.im)),
    ]
    return zeros.map((z): Factor => ({ poles, zeros: z }))
  })
  for (const factor of [...first, ...second]) {
    if (!kind.fits(factor)) continue
    const unit = biquadOf(factor, 1)
    const { least, most } = kind.gains(unit)
    const wanted = biquadOf(factor, Math.min(Math.max(least, 1 / levelOf(unit)), most))
    const values = kind.refuses?.(wanted) ? null : planSection(kind, wanted, SIZE).solve({})
    if (values) return { wanted, values }
  }
  throw new Error(`No example of ${kind.id}.`)
}

/** The page of a kind of section: what it makes, its response, its design equations, its sensitivities, its source. */
export function sectionPage(kind: SectionKind): SectionPage {
  const { wanted, values } = exampleOf(kind)
  const sensitivities = sectionSensitivities(kind, values, wanted)
  const families = SECTION_FAMILIES.filter((f) => sectionsOf(f).includes(kind)).map((f) => `\`${f.id}\``)
  const number = (x: number) => (Math.abs(x) < 5e-4 ? '0' : x.toFixed(2).replace('-', '−'))
  const q = wanted.order === 2 ? `, Q = ${Number(wanted.q.toPrecision(3))}` : ''
  const markdown = [
    `# ${kind.name}`,
    '',
    `Makes ${kind.makes} factors with ${kind.amplifiers} amplifier${kind.amplifiers > 1 ? 's' : ''}${kind.sign < 0 ? ', and turns the signal over' : ''}. Used by ${families.join(', ')}.`,
    '',
    `![Drawing](${kind.id}.svg)`,
    '',
    `$$H(s) = ${kind.sign < 0 ? '-' : ''}\\frac{${polynomialTex(kind.numerator)}}{${polynomialTex(kind.denominator)}}$$`,
    '',
    '## Values',
    '',
    ...kind.design.flatMap((tex) => [`$$${tex}$$`, '']),
    '## Parts',
    '',
    `Sensitivities are those of the drawing: f₀ = 1 kHz${q}.`,
    '',
    '| part | what it does | S of ω₀ | S of Q |',
    '|---|---|---|---|',
    ...Object.entries(kind.roles).map(([part, role]) => {
      const s = sensitivities[part]
      return `| ${part} | ${role} | ${s ? number(s.omega) : '–'} | ${s ? number(s.q) : '–'} |`
    }),
    '',
    '## Source',
    '',
    kind.source,
    '',
  ].join('\n')
  return { markdown, circuit: sectionAlone(kind, values) }
}

const letters = (part: string) => `${part[0]}_{${part.slice(1)}}`

function polynomialTex(p: Polynomial): string {
  const terms = p.flatMap((text, power) => {
    if (text === '0') return []
    const own = texOf(text, { symbol: letters, times: '\\,', has: () => true })
    const s = power === 0 ? '' : power === 1 ? 's' : `s^${power}`
    if (text === '1') return [s || '1']
    const isSum = /[+-]/.test(text.replace(/\([^()]*\)/g, ''))
    return [power === 0 ? own : `${isSum ? `\\left(${own}\\right)` : own}\\,${s}`]
  })
  return terms.reverse().join(' + ')
}
