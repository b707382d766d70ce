import type { Check, Finding } from './Check.js'

/** Values that nobody can buy: usually a prefix that slipped. */
export const usualValues: Check = {
  id: 'usual-values',
  find(_circuit, flat) {
    return flat.elements.flatMap(({ kind, name, values }): Finding[] => {
      if (!kind.usual || !kind.mainValue) return []
      const field = kind.values.find((f) => f.id === kind.mainValue)!
      const value = values[kind.mainValue]
      const [least, most] = kind.usual
      const message =
        value < 0
          ? `The ${field.name.toLowerCase()} of ${name} is negative.`
          : value !== 0 && (value < least || value > most)
            ? `The ${field.name.toLowerCase()} of ${name}, ${value} ${field.unit}, is outside what is usual (${least} to ${most} ${field.unit}).`
            : null
      if (message === null) return []
      return [
        {
          check: 'usual-values',
          severity: 'warning',
          message,
          fix: 'Check its prefix: m is milli, M is mega.',
          parts: [name],
          nets: [],
          remedy: { look: name },
        },
      ]
    })
  },
}
