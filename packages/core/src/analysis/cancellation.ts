import { abs, add, type Complex, compareRoots, complex, conjugate, scale, subtract } from '../numeric/complex.js'

/** A pole or a zero, and by how much rounding may have moved it, rad/s. */
export interface Root {
  readonly at: Complex
  readonly error: number
}

/** Estimated errors are right to this factor for single roots: the estimate is of the first order, and rounding adds up. */
const SAFETY = 30

/** Roots are certain to no less than this part of their size. */
const FLOOR = 64 * Number.EPSILON

/**
 * Takes out the poles and zeros that are one and the same: those that lie no farther apart than both are certain. Roots
 * that lie closer to each other than they are certain are one root of a multiplicity: each of them alone is off, their
 * mean is not, so that what is left of them where some have gone stands at the mean.
 *
 * @param poles and @param zeros closed under conjugation
 * @param reach the most that roots of a multiplicity lie apart, against their size
 * @param multiple false leaves roots of a multiplicity as they are: all of them together are right, too
 * @param atOrigin false leaves roots that cannot be told from those at the origin where they are, for the same reason
 */
export function cancelled(
  poles: readonly Root[],
  zeros: readonly Root[],
  reach: number,
  multiple: boolean,
  atOrigin = true,
): { poles: Complex[]; zeros: Complex[]; hidden: Complex[] } {
  const result = { poles: [] as Complex[], zeros: [] as Complex[], hidden: [] as Complex[] }
  for (const { own: cluster, mirrored } of clusters(poles, zeros, reach, atOrigin)) {
    const gone = multiple || isTight(cluster) ? Math.min(cluster.poles.length, cluster.zeros.length) : 0
    const put = (list: Complex[], root: Complex) => list.push(root, ...(mirrored ? [conjugate(root)] : []))
    const [kept, others] = [left(cluster.poles, cluster.zeros, gone), left(cluster.zeros, cluster.poles, gone)]
    for (const root of kept) put(result.poles, root)
    for (const root of others) put(result.zeros, root)
    const hidden = mean(cluster.poles)
    for (let k = 0; k < gone; k++) put(result.hidden, hidden)
  }
  for (const list of Object.values(result)) list.sort(compareRoots)
  return result
}

/** A root of a multiplicity is uncertain by so much that only this part of its size counts as near the axis. */
const NEAR_AXIS = 1e-9

/** The root on the imaginary axis itself, where it lies nearer to it than it is certain. */
export function onAxis(root: Root): Root {
  const near = Math.min(SAFETY * root.error + FLOOR * abs(root.at), NEAR_AXIS * abs(root.at))
  return Math.abs(root.at.re) <= near ? { ...root, at: complex(0, root.at.im) } : root
}

/** Roots of a multiplicity that rounding has hardly parted: their mean is each of them. */
const TIGHT = 1e-7

function isTight({ poles, zeros }: Cluster): boolean {
  const all = [...poles, ...zeros]
  return all.every(({ at }) => abs(subtract(at, all[0]!.at)) <= TIGHT * abs(at))
}

interface Cluster {
  readonly poles: Root[]
  readonly zeros: Root[]
}

/** Roots that cannot be told apart, above the real axis (then each stands for its mirror image, too) or on it. */
function clusters(
  poles: readonly Root[],
  zeros: readonly Root[],
  reach: number,
  atOrigin: boolean,
): { own: Cluster; mirrored: boolean }[] {
  const all = [...poles.map((root) => ({ root, pole: true })), ...zeros.map((root) => ({ root, pole: false }))]
  const left = new Set(all.filter(({ root }) => root.at.im >= 0))
  const found: { own: Cluster; mirrored: boolean }[] = []
  for (const seed of left) {
    const members = [seed]
    left.delete(seed)
    for (let k = 0; k < members.length; k++) {
      for (const other of left) {
        if (!together(members[k]!.root, other.root, reach, atOrigin)) continue
        members.push(other)
        left.delete(other)
      }
    }
    // A cluster that reaches its own mirror image lies on the axis, and its members below it belong to it.
    const isReal = members.some(
      ({ root }) => root.at.im === 0 || together(root, { ...root, at: conjugate(root.at) }, reach, atOrigin),
    )
    const own: Cluster = { poles: [], zeros: [] }
    for (const { root, pole } of members) {
      const list = pole ? own.poles : own.zeros
      list.push(root)
      if (isReal && root.at.im > 0) list.push({ ...root, at: conjugate(root.at) })
    }
    found.push({ own, mirrored: !isReal })
  }
  return found
}

function together(a: Root, b: Root, reach: number, atOrigin: boolean): boolean {
  const [least, most] = [Math.min(abs(a.at), abs(b.at)), Math.max(abs(a.at), abs(b.at))]
  // Roots at the origin are found by rank: others lie there, too, where nothing is certain of them.
  const bound = least === 0 && atOrigin ? Infinity : reach * most
  return abs(subtract(a.at, b.at)) <= Math.min(bound, SAFETY * (a.error + b.error)) + FLOOR * most
}

/**
 * What is left of a cluster's poles (or zeros) when some have gone with all of the others: at the place that the difference
 * of both sums leaves, which is right where the roots are one and where they are several, almost together.
 */
function left(roots: readonly Root[], others: readonly Root[], gone: number): Complex[] {
  if (roots.length - gone <= 0) return []
  // What cannot be told from roots at the origin, which are found by rank, lies there, too.
  if (roots.some(({ at }) => abs(at) === 0)) return Array.from({ length: roots.length - gone }, () => complex(0))
  if (gone === 0) return roots.map(({ at }) => at)
  const rest = roots.length - gone
  const at = subtract(scale(mean(roots), roots.length / rest), scale(mean(others), gone / rest))
  return Array.from({ length: rest }, () => at)
}

function mean(roots: readonly Root[]): Complex {
  const sum = roots.reduce((total, { at }) => add(total, at), complex(0))
  const centre = scale(sum, 1 / roots.length)
  // On the axis the imaginary parts cancel, but for their rounding.
  const isReal = roots.every(({ at }) => roots.some((other) => other.at.im === -at.im && other.at.re === at.re))
  return isReal ? complex(centre.re) : centre
}
