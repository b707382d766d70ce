import { inductanceAt } from './inductor.js'
import type { FlatElement, PartKind } from './PartKind.js'

/** Couples two inductors: the mutual inductance is coupling·√(L1·L2); the first nodes of both carry the dots. */
export const coupling: PartKind = {
  id: 'coupling',
  name: 'Inductive coupling',
  letter: 'K',
  group: 'store',
  words: ['couple', 'coupling'],
  pins: [],
  pinPlaces: {},
  symbol: { strokes: [], half: [1, 1] },
  values: [{ id: 'coupling', name: 'Coupling', unit: '', default: 0.99, range: 'any' }],
  mainValue: 'coupling',
  sensitive: true,
  refersToParts: 2,
  check: ({ coupling }) =>
    Math.abs(coupling) > 1
      ? { problem: `its coupling of ${coupling} is above 1`, fix: 'Give a value from −1 to 1.' }
      : null,
  checkTogether,
  stamp(s, { values, refs: [first, second] }) {
    const [a, b] = [first, second].map((index) => ({
      branch: s.branchOf(index, 'inductor'),
      inductance: inductanceAt(s.element(index).values, s.temperature),
    }))
    const mutual = values.coupling * Math.sqrt(a.inductance * b.inductance)
    s.store({ branch: a.branch }, { branch: b.branch }, mutual)
    s.store({ branch: b.branch }, { branch: a.branch }, mutual)
  },
  card: {
    read(reader) {
      const refs = [reader.word('the first inductor'), reader.word('the second inductor')]
      return { refs, values: { coupling: reader.value('the coupling') } }
    },
    write: (part, writer) => [...(part.refs ?? []).map((r) => writer.name(r)), writer.value('coupling')].join(' '),
  },
}

/** Each pair is coupled once, and coils that have all the couplings can be wound: their energy is never negative. */
function checkTogether(couplings: readonly FlatElement[], elements: readonly FlatElement[]) {
  const seen = new Map<string, string>()
  const coils = new Map<number, number>()
  const wrong = (part: string, problem: string, fix: string) => ({ part, problem, fix })
  for (const { name, refs } of couplings) {
    const [a, b] = refs
    // What is no inductor is told where it is asked for its branch.
    if ([a, b].some((index) => elements[index].kind.id !== 'inductor')) return null
    if (a === b) return wrong(name, `${name} couples ${elements[a].name} with itself.`, 'Name two inductors.')
    const pair = [a, b].sort((x, y) => x - y).join()
    const before = seen.get(pair)
    const names = `${elements[a].name} and ${elements[b].name}`
    if (before)
      return wrong(name, `${before} and ${name} both couple ${names}.`, 'Remove one of the two: they would add up.')
    seen.set(pair, name)
    if (!(elements[a].values.inductance * elements[b].values.inductance >= 0))
      return wrong(name, `${name} couples ${names}, of which one is negative.`, 'Give both inductances the same sign.')
    for (const coil of [a, b]) if (!coils.has(coil)) coils.set(coil, coils.size)
  }
  const n = coils.size
  const k = Array.from({ length: n }, (_, i) => Float64Array.from({ length: n }, (_, j) => Number(i === j)))
  for (const { refs, values } of couplings) {
    const [i, j] = refs.map((r) => coils.get(r) ?? 0)
    k[i][j] = k[j][i] = values.coupling
  }
  if (n === 0 || isPositive(k)) return null
  const names = [...coils.keys()].map((c) => elements[c].name).join(', ')
  return wrong(
    couplings.at(-1)!.name,
    `No coils have the couplings ${couplings.map((c) => c.name).join(', ')} of ${names} together: they would give energy away.`,
    'Lower one of them, or turn the sign of one: of three coils with 0.9 between two pairs the third has at least 0.62.',
  )
}

/** Rounding of a determinant that is just zero: coils that are coupled completely. */
const ROUNDING = 1e-12

/** Whether a symmetric matrix has no negative eigenvalue: elimination with the largest pivot of the diagonal. */
function isPositive(matrix: readonly Float64Array[]): boolean {
  const left = new Set(matrix.keys())
  while (left.size > 0) {
    const pivot = [...left].reduce((a, b) => (matrix[b][b] > matrix[a][a] ? b : a))
    const d = matrix[pivot][pivot]
    left.delete(pivot)
    if (d < -ROUNDING) return false
    if (d <= ROUNDING) {
      // Nothing is left on the diagonal: anything beside it would be negative one way.
      const beside = (i: number) => matrix[i][i] < -ROUNDING || Math.abs(matrix[i][pivot]) > Math.sqrt(ROUNDING)
      if ([...left].some(beside)) return false
      continue
    }
    for (const i of left) for (const j of left) matrix[i][j] -= (matrix[i][pivot] * matrix[pivot][j]) / d
  }
  return true
}
