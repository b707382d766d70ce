import { netlistNumber } from './number.js'

/** Numbers with the netlist's scales, not inside a name. */
const SCALED = /(?<![\w.])((?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?[a-zµμ]+)(?![\w(])/gi

/** A netlist's expression with its scaled numbers written out: `2*1k` becomes `2*1000`. */
export function plainExpression(text: string): string {
  return text.replace(SCALED, (number) => {
    const value = netlistNumber(number)
    return value === undefined ? number : String(value)
  })
}
