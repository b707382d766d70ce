import type { Command } from 'commander'

/** A command of the tool; each stands in a file of its own and in the list of index.ts. */
export type Register = (program: Command) => void

/** Exit status of a run that did its work and found a requirement not met. */
export const NOT_MET = 1
