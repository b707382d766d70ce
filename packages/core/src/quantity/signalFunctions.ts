/** What a signal can be turned into, and what that is in words. */
export const SIGNAL_FUNCTIONS = {
  abs: 'magnitude of a complex quantity',
  db: '20·log₁₀ of the magnitude; of a power 10·log₁₀',
  deg: 'phase between −180° and 180°',
  re: 'real part',
  im: 'imaginary part',
  conj: 'conjugate: the imaginary part turned round',
  delay: 'group delay over frequency, −dφ/dω',
  derivative: 'derivative: by the frequency in Hz, or by the time in s',
  mean: 'running mean over time, from the begin on',
  sqrt: 'square root',
  exp: 'e to the power of a plain number',
  ln: 'natural logarithm of a plain number',
  log10: 'decimal logarithm of a plain number',
} as const
export type SignalFunction = keyof typeof SIGNAL_FUNCTIONS

export const isSignalFunction = (name: string): name is SignalFunction => Object.hasOwn(SIGNAL_FUNCTIONS, name)
