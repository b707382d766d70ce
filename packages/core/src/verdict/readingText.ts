import { formatQuantity } from '../quantity/formatQuantity.js'
import { measureOf } from '../specification/requirements/measures.js'
import type { ReadAs, ValueReading } from '../specification/requirements/value.js'

const AS: Readonly<Record<ReadAs, string>> = {
  db: 'magnitude of ',
  abs: 'size of ',
  deg: 'phase of ',
  re: 'real part of ',
  im: 'imaginary part of ',
}

/** What is read, in words. */
export function readingText(reading: ValueReading): string {
  if ('measure' in reading) {
    const { measure, index } = measureOf(reading.measure)!
    const which = index === null ? '' : ` ${index + 1}`
    return `${measure.name.toLowerCase()}${which} of ${reading.output ?? 'the output'}`
  }
  if ('noise' in reading) {
    const { noise, from, to, level } = reading
    const band = [from, to].map((f) => formatQuantity(f, 'Hz')).join(' to ')
    return level === undefined
      ? `noise of ${noise}, ${band}`
      : `${formatQuantity(level)} over the noise of ${noise}, ${band}`
  }
  if ('operatingPoint' in reading) return `${reading.signal} at rest`
  if ('frequency' in reading) return `${AS[reading.as]}${reading.signal} at ${formatQuantity(reading.frequency, 'Hz')}`
  const { signal, from, to, take, over, as } = reading
  const ends = [from, to].map((x) => formatQuantity(x, over === 'frequency' ? 'Hz' : 's')).join(' to ')
  return `${take} ${as ? AS[as] : ''}${signal}, ${ends}`
}
