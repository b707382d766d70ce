import { inputSource } from '../analysis/elements.js'
import { formulate, type Mna } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import type { Circuit } from '../circuit/circuit.js'
import { acMeasures } from '../measure/acMeasures.js'
import { extrema } from '../measure/extrema.js'
import { greatest, least, searchGrid, type Turn, turnsOf } from '../measure/overFrequency.js'
import { stepMeasures } from '../measure/stepMeasures.js'
import { narrowestStrip } from '../measure/straightness.js'
import { topologies } from '../synthesis/index.js'
import { groupDelay, magnitudeDb, phase, type TransferFunction } from '../numeric/transferFunction.js'
import type { AskedRequirement } from '../specification/requirements/index.js'
import type { At } from '../specification/requirements/RequirementKind.js'
import { pointsIn } from './bands.js'
import { PartFigures } from './partFigures.js'
import { Readings } from './readings.js'
import { type Evidence, KNOWN, type Promised, type Reads } from './Requirement.js'

/** What evidence is gathered of. */
export interface Subject {
  /** The specification and its ideal response; null for a circuit that stands for itself. */
  readonly promised: Promised | null
  /** What is required; left out, what the specification says. */
  readonly requirements?: readonly AskedRequirement[]
  /** The response that is judged, by its roots; a function, where it is only found if something asks for it. */
  readonly transfer: TransferFunction | (() => TransferFunction)
  /** null where a response alone is judged. */
  readonly circuit?: Circuit | null
  /** Its small-signal equations, where they are there already. */
  readonly equations?: Mna | null
  /** Its equations as they are, with devices; left out, of the circuit at the usual temperature. */
  readonly whole?: Mna | null
  /** The source that is the input; left out, the first that drives. */
  readonly input?: string
  /** Left out, `out`. */
  readonly output?: string
  /** What is promised and cannot be read is a line that is not met; left out, an error. */
  readonly lenient?: boolean
  /** What promised values are read by, where it is not the circuit. */
  readonly readings?: (measured: Pick<Evidence, 'ac' | 'step'>) => Reads
  /** The response's level, dB, where the ideal one has 0 dB: what dividing between source and load costs. */
  readonly referenceDb?: number
}

const TAU = 2 * Math.PI

/** What the response of a circuit is known to that was made for a specification. */
function knownOf(promised: Promised | null): number {
  const near = topologies.find((t) => t.id === promised?.spec.realization?.family)?.near
  return typeof near === 'number' ? near : KNOWN
}

/** Everything that requirements are judged by: each piece is worked out once, and when it is asked for. */
export function evidenceOf({
  promised,
  requirements = promised?.spec.requirements ?? [],
  transfer,
  circuit = null,
  equations = null,
  whole = null,
  input,
  output,
  referenceDb = 0,
  lenient = false,
  readings: readBy,
}: Subject): Evidence {
  const response = typeof transfer === 'function' ? once(transfer) : () => transfer
  const measured: Measured = {
    get extrema() {
      return measuredOf(response()).extrema
    },
    get ac() {
      return measuredOf(response()).ac
    },
    get step() {
      return measuredOf(response()).step
    },
  }
  const parts = once(() => circuit && new PartFigures(circuit))
  const readings = once((): Reads | null => {
    if (readBy) return readBy(measured)
    if (!circuit) return null
    const study = { ...(input !== undefined && { input }), ...(output !== undefined && { output }) }
    return new Readings(whole ?? formulate(circuit), study)
  })
  const seen = once(() => {
    if (!circuit) return null
    const linear = equations ?? smallSignal(formulate(circuit))
    return polesAndZeros(linear, { output: `z(${inputSource(linear, input).element.name})` }).transfer
  })
  return {
    promised,
    requirements,
    get transfer() {
      return response()
    },
    referenceDb,
    isLenient: lenient,
    known: circuit ? knownOf(promised) : KNOWN,
    get extrema() {
      return measured.extrema
    },
    get ac() {
      return measured.ac
    },
    get step() {
      return measured.step
    },
    get cutoffs() {
      return measured.ac.cutoffs
    },
    get topDb() {
      const tops = pointsIn(promised?.ideal.passbands ?? [], response(), measured.extrema).map((p) => p.db)
      return tops.length > 0 ? Math.max(...tops) : (measured.ac.peakDb ?? 0)
    },
    get readings() {
      return readings()
    },
    get parts() {
      return parts()
    },
    highest(from, to) {
      const { db, omega } = pointsIn([[from, to]], response(), measured.extrema).reduce((a, b) => (b.db > a.db ? b : a))
      return { value: db, at: omega / TAU }
    },
    bend(from, to) {
      const h = response()
      const degrees = (w: number) => (phase(h, w) * 180) / Math.PI
      const { deviation, at } = narrowestStrip(degrees, searchGrid(h, TAU * from, TAU * to))
      return { value: deviation, at: at / TAU }
    },
    delays(from, to) {
      const h = response()
      const turns = turnsOf((w) => groupDelay(h, w), searchGrid(h, TAU * from, TAU * to))
      return { least: inHz(least(turns)), greatest: inHz(greatest(turns)) }
    },
    impedances(from, to) {
      const z = seen()
      if (!z) return null
      const [low, high] = [TAU * from, TAU * to]
      const size = (w: number) => 10 ** (magnitudeDb(z, w) / 20)
      const onAxis = [...z.poles, ...z.zeros].filter((r) => r.re === 0 && r.im >= low && r.im <= high)
      // At roots on the axis it is 0 or without bound, and no search comes there.
      const turns = [
        ...turnsOf(size, searchGrid(z, low, high)),
        ...onAxis.map(({ im }) => ({ omega: im, value: size(im) })),
      ]
      return { least: inHz(least(turns)), greatest: inHz(greatest(turns)) }
    },
  }
}

type Measured = Pick<Evidence, 'extrema' | 'ac' | 'step'>
const known = new WeakMap<TransferFunction, Measured>()

/** What is measured of a response, when it is first asked for: circuits that have one response share it. */
function measuredOf(transfer: TransferFunction): Measured {
  let measured = known.get(transfer)
  if (!measured) {
    const [found, ac, step] = [
      once(() => extrema(transfer)),
      once(() => acMeasures(transfer)),
      once(() => stepMeasures(transfer)),
    ]
    measured = {
      get extrema() {
        return found()
      },
      get ac() {
        return ac()
      },
      get step() {
        return step()
      },
    }
    known.set(transfer, measured)
  }
  return measured
}

const inHz = ({ omega, value }: Turn): At => ({ value, at: omega / TAU })

function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => (made ??= { value: make() }).value
}
