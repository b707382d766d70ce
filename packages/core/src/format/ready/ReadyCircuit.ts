/** A circuit to begin from. Each stands in a file of its own and in the list of index.ts. */
export interface ReadyCircuit {
  readonly id: string
  readonly name: string
  /** What it is for, in a line. */
  readonly purpose: string
  /** What to look at, in a line. */
  readonly look: string
  readonly netlist: string
}

/** An ideal amplifier, as netlists write one. */
export const IDEAL = `.subckt ideal plus minus out
E1 out 0 plus minus 1e8
.ends`

export const netlistOf = (title: string, ...lines: string[]): string => [title, ...lines, '.end', ''].join('\n')
