import type { Upgrade } from './Upgrade.js'
import { version1 } from './version1.js'
import { version2 } from './version2.js'

/** Every earlier version. A new version of the design file adds a line. */
export const upgrades: readonly Upgrade[] = [version1 as Upgrade, version2 as Upgrade]
