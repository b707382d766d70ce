import { Lane } from './lane'
import { takeWorker } from './workers'

const lane = (name: string) => new Lane(() => takeWorker(name))

/**
 * Three workers: `live` answers what follows every edit, `trace` what takes a moment longer, `population` what takes long.
 * None waits for another.
 */
export const lanes = { live: lane('live'), trace: lane('trace'), population: lane('population') }
