import type { RolldownOptions } from 'rolldown'

declare const config: RolldownOptions
export default config
