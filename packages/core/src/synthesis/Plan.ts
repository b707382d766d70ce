import { VoskelError } from '../errors/VoskelError.js'
import { Sketch, type Slot, type Values } from './Sketch.js'
import type { ValuePolicy } from './values.js'

/** A way to a circuit with its values still open: they are found, chosen from what can be had, and then drawn. */
export interface Plan<Drawn> {
  /** In the order in which they are chosen: what is chosen may change what the rest has to be. */
  readonly slots: readonly Slot[]
  /** The values of all slots where some are chosen already; null where nothing goes with these. */
  solve(chosen: Values): Values | null
  /**
   * @param values of all slots
   * @param computed what each was computed as before it was chosen
   */
  draw(values: Values, computed: Values): Drawn
}

/** A plan whose values do not depend on each other: what draws them also finds them. */
export function plainPlan<Drawn>(draw: (sketch: Sketch) => Drawn): Plan<Drawn> {
  const sketch = new Sketch()
  const exact = draw(sketch)
  const { slots, computed } = sketch
  return {
    slots,
    solve: (chosen) => ({ ...computed, ...chosen }),
    draw: (values) => (slots.every(({ id }) => values[id] === computed[id]) ? exact : draw(new Sketch(values))),
  }
}

/**
 * The circuit of a plan with allowed values, each taken by itself as the nearest one or the next above.
 *
 * @throws VoskelError `REALIZATION_IMPOSSIBLE` where nothing goes with these
 */
export function drawn<Drawn>(plan: Plan<Drawn>, policy: ValuePolicy): Drawn {
  if (policy.choice === 'exact') {
    const exact = solved(plan, {})
    return plan.draw(exact, exact)
  }
  const [chosen, computed]: Record<string, number>[] = [{}, {}]
  for (const { id, atLeast } of plan.slots) {
    computed[id] = solved(plan, chosen)[id]
    chosen[id] = atLeast ? policy.atLeast(computed[id]) : policy.nearest(computed[id])
  }
  return plan.draw(chosen, computed)
}

function solved(plan: Plan<unknown>, chosen: Values): Values {
  const found = plan.solve(chosen)
  if (!found)
    throw new VoskelError(
      'REALIZATION_IMPOSSIBLE',
      {
        problem:
          'With the nearest values of this series the others cannot be had: what is left for one of them is below zero.',
        fix: 'Take a finer series or exact values, or change the size of the parts a little.',
      },
      { path: 'values' },
    )
  return found
}
