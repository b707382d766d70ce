import { isShaped } from '@voskel/core'
import { type MaskPart, maskMarks, topInside } from '../maskMarks'
import { type Computed, levelOf } from './Over'

/** The mask of what is promised, as it is judged: from the circuit's highest level in the passband down. */
export function judgedMask(computed: Computed): MaskPart[] {
  const { spec, ideal, range, frequency, output } = computed
  if (!spec || isShaped(spec)) return []
  const curve = frequency?.curves.find((c) => c.signal === output)
  const top = curve ? topInside(spec, ideal?.ideal ?? null, curve.frequency, curve.db) : -Infinity
  return maskMarks(spec, ideal?.ideal ?? null, range, Number.isFinite(top) ? top - spec.gain : levelOf(computed))
}
