import { inductanceAt } from './inductor.js'
import type { PartKind } from './PartKind.js'

/** Couples two inductors: the mutual inductance is coupling·√(L1·L2); the first nodes of both carry the dots. */
export const coupling: PartKind = {
  id: 'coupling',
  name: 'Inductive coupling',
  letter: 'K',
  pins: [],
  pinPlaces: {},
  values: [{ id: 'coupling', name: 'Coupling', unit: '', default: 0.99, range: 'any' }],
  mainValue: 'coupling',
  sensitive: true,
  refersToParts: true,
  check: ({ coupling }) =>
    Math.abs(coupling) > 1
      ? { problem: `its coupling of ${coupling} is above 1`, fix: 'Give a value from −1 to 1.' }
      : null,
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
