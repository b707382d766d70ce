/**
 * Every error of the core: its stable code, whether the input or the analysis is at fault, the sentence that says why
 * from the facts, and what would be right. `docs/errors.md` explains each code; a test compares the two.
 */
export const catalogue = {
  QUANTITY_SYNTAX: {
    kind: 'input',
    why: (f: { text: string; problem: string }) => `"${f.text}" is not a value: ${f.problem}.`,
    fix: 'Write a number with an SI prefix, for example 4.7k, 4k7, 100n, 2.2u or 1Meg (m is milli, M is mega).',
  },
  SPEC_INVALID: {
    kind: 'input',
    why: (f: { problem: string; fix: string }) => f.problem,
    fix: (f: { fix: string }) => f.fix,
  },
  ORDER_TOO_HIGH: {
    kind: 'input',
    why: (f: { approximation: string; needed: number | null; most: number }) =>
      f.needed === null
        ? `No order of ${f.approximation} response meets this stop band.`
        : `This stop band needs ${f.approximation} response of order ${f.needed}; the most is ${f.most}.`,
    fix: 'Move the stop-band edge away from the passband, ask for less attenuation, or allow more ripple.',
  },
  REQUIREMENTS_UNREACHED: {
    kind: 'input',
    why: (f: {
      approximation: string
      most: number
      nearest: number
      unmet: readonly string[]
      advice: readonly string[]
    }) =>
      `No order up to ${f.most} of ${f.approximation} response meets everything; order ${f.nearest} comes nearest and misses: ${f.unmet.join('; ')}.`,
    fix: (f: { advice: readonly string[] }) =>
      f.advice.length > 0
        ? `All is met by ${f.advice.join(', or ')}.`
        : 'No approximation meets it all: leave out what does not exist, allow the values in brackets, or ask over a narrower band.',
  },
  EQUALIZER_UNREACHED: {
    kind: 'input',
    why: (f: { wanted: number; most: number; reached: number }) =>
      `No delay equaliser of up to ${f.most} sections keeps the delay within ${f.wanted.toPrecision(4)} s in this band; ${f.reached.toPrecision(4)} s can be had.`,
    fix: (f: { reached: number }) =>
      `Allow ${(1.01 * f.reached).toPrecision(3)} s, or end the band farther from the passband's edge.`,
  },
  NOT_OFFERED: {
    kind: 'input',
    why: (f: { what: string; name: string; offered: readonly string[] }) => `The ${f.what} "${f.name}" is not offered.`,
    fix: (f: { what: string; offered: readonly string[] }) => `Offered for ${f.what}: ${f.offered.join(', ')}.`,
  },
  REALIZATION_IMPOSSIBLE: {
    kind: 'input',
    why: (f: { problem: string; fix: string }) => f.problem,
    fix: (f: { fix: string }) => f.fix,
  },
  NETLIST_SYNTAX: {
    kind: 'input',
    why: (f: { problem: string; fix?: string }) => f.problem,
    fix: (f: { fix?: string }) => f.fix ?? 'See the netlist subset in docs/guide/netlist.md.',
  },
  DESIGN_INVALID: {
    kind: 'input',
    why: (f: { problem: string }) => `This is not a Voskel design: ${f.problem}.`,
    fix: 'A design file is JSON with "format": "voskel-design"; write one with `voskel design SPEC`.',
  },
  PROJECT_INVALID: {
    kind: 'input',
    why: (f: { problem: string }) => `This is not a Voskel project: ${f.problem}`,
    fix: 'A project file is JSON with "format": "voskel-project"; the list of projects writes one with “Save as file”.',
  },
  KEPT_INVALID: {
    kind: 'input',
    why: (f: { problem: string }) => `These are no kept curves: ${f.problem}.`,
    fix: 'Pin the run again, or read the table again.',
  },
  DESIGN_NEWER: {
    kind: 'input',
    why: (f: { version: number; known: number }) =>
      `This design file has version ${f.version}; this Voskel reads up to version ${f.known}.`,
    fix: 'Open it with the Voskel that wrote it, or update this one.',
  },
  ARGUMENT: {
    kind: 'input',
    why: (f: { problem: string; fix: string }) => f.problem,
    fix: (f: { fix: string }) => f.fix,
  },
  TABLE_INVALID: {
    kind: 'input',
    why: (f: { row: number; problem: string; fix: string }) =>
      `The table cannot be read at row ${f.row}: ${f.problem}.`,
    fix: (f: { fix: string }) => f.fix,
  },
  NOT_IN_NETLIST: {
    kind: 'input',
    why: (f: { part: string; what: string }) => `A netlist has no word for the waveform of ${f.part} (${f.what}).`,
    fix: 'Keep the circuit as a design, or give the source a pulse, a sine or a piecewise-linear waveform.',
  },
  OUTPUT_INDEPENDENT: {
    kind: 'input',
    why: () => 'The output does not depend on the input at any frequency.',
    fix: 'Choose another output or input, or join the two in the circuit.',
  },
  CIRCUIT_INVALID: {
    kind: 'input',
    why: (f: { problem: string; fix: string }) => f.problem,
    fix: (f: { fix: string }) => f.fix,
  },
  EXPRESSION_INVALID: {
    kind: 'input',
    why: (f: { text: string; problem: string }) => `The expression "${f.text}" cannot be used: ${f.problem}.`,
    fix: 'Use numbers, parameters, + - * / ^, comparisons, a ? b : c, and functions such as sqrt, exp, ln, log10, sin, min, max.',
  },
  COMPUTATION_ENDED: {
    kind: 'analysis',
    why: (f: { problem: string }) => `The computation ended before its time: ${f.problem}.`,
    fix: 'Change something to try again; a very large circuit may need more memory than there is.',
  },
  SIGNAL_INVALID: {
    kind: 'input',
    why: (f: { text: string; problem: string; at?: number }) => `The signal "${f.text}" cannot be used: ${f.problem}.`,
    fix: 'Ask for a net by v(out) or v(a,b), a current by i(R1), an impedance by z(V1) or z(net), a power by p(R1), or join such with + - * / ^ and functions such as db, deg, re, im, abs.',
  },
  PARAMETER_CIRCLE: {
    kind: 'input',
    why: (f: { names: readonly string[] }) => `The parameters go round in a circle: ${f.names.join(' → ')}.`,
    fix: 'Give one of them a number.',
  },
  NO_CONVERGENCE: {
    kind: 'analysis',
    why: (f: { unknown: string; device: string | null; tried: readonly string[]; at: string }) =>
      `No solution was found ${f.at}: ${f.unknown}${f.device ? ` and the device ${f.device}` : ''} would not settle (tried: ${f.tried.join(', ')}).`,
    fix: 'Look for an impossible bias there: a missing path, a wrong polarity, a source far too large; or give the net an initial voltage.',
  },
  NO_SETTLED_STATE: {
    kind: 'analysis',
    why: (f: { problem: string }) => `The circuit settles to nothing that comes again and again: ${f.problem}.`,
    fix: 'Look at the run from rest, or change what keeps it from settling.',
  },
  NO_GROUND: {
    kind: 'analysis',
    why: () => 'The circuit has no ground, so no voltage is defined.',
    fix: 'Connect one net to ground (node 0).',
  },
  FLOATING_NET: {
    kind: 'analysis',
    why: (f: { nets: readonly string[] }) =>
      f.nets.length === 1
        ? `Net "${f.nets[0]}" has no connection to ground.`
        : `The nets ${f.nets.map((n) => `"${n}"`).join(', ')} have no connection to ground.`,
    fix: 'Connect it to the rest of the circuit, or to ground.',
  },
  VOLTAGE_LOOP: {
    kind: 'analysis',
    why: (f: { parts: readonly string[] }) => `${f.parts.join(', ')} form a loop of ideal voltage sources.`,
    fix: 'Put a resistance in series with one of them, or take one out.',
  },
  SINGULAR: {
    kind: 'analysis',
    why: (f: { unknown: string; at: string }) =>
      `The circuit cannot be solved ${f.at}: ${f.unknown} is not determined.`,
    fix: 'Give the net a path to ground, or break the loop of ideal sources.',
  },
  FIT_UNDETERMINED: {
    kind: 'analysis',
    why: (f: { trades: readonly (readonly { name: string; percent: number }[])[] }) =>
      f.trades
        .map((trade) =>
          trade.length === 1
            ? `${trade[0].name} has no influence on what was measured.`
            : `What was measured does not tell ${trade.map((t) => t.name).join(', ')} apart: ${trade
                .map(({ name, percent }) => `${name} ${percent < 0 ? '−' : '+'}${Math.abs(percent)} %`)
                .join(' with ')} changes nothing.`,
        )
        .join(' '),
    fix: 'Leave out one value of each such group, or measure something else as well, such as an impedance.',
  },
  TOO_LARGE: {
    kind: 'analysis',
    why: (f: { what: string; unknowns: number; most: number }) =>
      `The circuit has ${f.unknowns} unknowns; ${f.what} are found for at most ${f.most}.`,
    fix: 'Analyse a part of the circuit, or use its frequency response and transient.',
  },
  POLES_UNCERTAIN: {
    kind: 'analysis',
    why: () =>
      'The poles and zeros of this circuit lie too far apart, or too close together, to be found with doubles.',
    fix: 'Look at its frequency response instead, or leave out parts that do not matter there.',
  },
  STEP_TOO_SMALL: {
    kind: 'analysis',
    why: (f: { time: number; unknown: string }) =>
      `The transient stopped at ${f.time} s: no step is small enough for ${f.unknown}.`,
    fix: 'Loosen the tolerance, give the source a rise time, or put a small capacitance to ground where nothing else holds that voltage.',
  },
  TOO_MANY_STEPS: {
    kind: 'analysis',
    why: (f: { time: number; steps: number }) => `The transient stopped at ${f.time} s after ${f.steps} steps.`,
    fix: 'Choose a shorter stop time or a larger tolerance.',
  },
} as const

export type ErrorCode = keyof typeof catalogue
export type ErrorFacts<C extends ErrorCode> = Parameters<(typeof catalogue)[C]['why']>[0] extends undefined
  ? Record<string, never>
  : NonNullable<Parameters<(typeof catalogue)[C]['why']>[0]>
