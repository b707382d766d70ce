import { cascade } from './cascade.js'
import { firstOrderFollower } from './firstOrderFollower.js'
import { sallenKeyLowpass } from './sallenKeyLowpass.js'

/** Unity-gain sections with one amplifier each. */
export const sallenKey = cascade({
  id: 'sallen-key',
  name: 'Sallen–Key, unity gain',
  character:
    'One amplifier as a follower for each pole pair: no coils, gain exact, amplifier must be much faster than the filter.',
  source: sallenKeyLowpass.source,
  formulas: ['H = 1/(1 + s·C₂(R₁ + R₂) + s²·R₁R₂C₁C₂): C₁ = 2Q·C, C₂ = C/2Q, R = 1/(ω₀·C)'],
  sections: [firstOrderFollower, sallenKeyLowpass],
})
