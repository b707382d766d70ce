/** What a benchmark measured, against what is wanted. */
export interface Figure {
  name: string
  value: number
  unit: string
  /** Printed beside the value; nothing fails by it, since machines differ. */
  wanted?: string
}

export function print(title: string, figures: readonly Figure[]): void {
  console.log(`\n${title}`)
  for (const { name, value, unit, wanted } of figures) {
    const shown = `${value.toPrecision(3)} ${unit}`
    console.log(`  ${name.padEnd(62)} ${shown.padStart(14)}${wanted ? `   (wanted: ${wanted})` : ''}`)
  }
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.floor(sorted.length / 2)]!
}

/** Least time of `rounds` runs, s: what the machine can do when nothing disturbs it. */
export function least(rounds: number, run: () => void): number {
  let best = Infinity
  for (let k = 0; k < rounds; k++) {
    const began = performance.now()
    run()
    best = Math.min(best, (performance.now() - began) / 1000)
  }
  return best
}
