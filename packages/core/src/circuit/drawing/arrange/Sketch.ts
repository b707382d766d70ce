import type { Circuit, Part } from '../../circuit.js'
import { GROUND_NAME } from '../../flatten.js'
import { NetMap } from '../../NetMap.js'
import { partKind, partShape } from '../../parts/index.js'
import { membersOf, type Pair, pairsOf } from './figures.js'

/** A part with its pins' nets. */
export interface Member {
  readonly part: Part
  /** By the pins that something is joined to. */
  readonly nets: ReadonlyMap<string, string>
}

/** A two-pin part, or what is one here: a transistor with its control on its own net, or biased by name. */
export interface Link extends Member {
  readonly ends: readonly [pin: string, pin: string]
}

/** What hangs from a net: a link, then a rail, or a net from which more hangs. */
export interface Hanging {
  readonly link: Link
  /** The pin at which it hangs, and the other one. */
  readonly pin: string
  readonly far: string
  readonly net: string
  readonly below: readonly Hanging[]
  /** Others between the same two nets. */
  readonly beside: readonly Link[]
}

/** The pins that a transistor conducts between, the one nearer to ground first; what controls it; its load's end and the other. */
export interface Transistor {
  readonly lower: string
  readonly upper: string
  readonly control: string
  readonly drain: string
  readonly source: string
}

/** Which way a net's hangings go. */
export type Way = 'up' | 'down'

/** Where a circuit begins and ends, where that is known. */
export interface Ends {
  /** The driving source. */
  readonly input?: string
  readonly output?: string
  /** Of a block: the nets that are its pins, the first one its input. */
  readonly pins?: readonly string[]
}

const USUAL_OUTPUT = 'out'

/**
 * What a circuit is for its drawing: which nets are rails and drawn as symbols at each pin, which are joined by name, what
 * hangs from a net, and what is left: the links and devices that a signal takes its way through.
 */
export class Sketch {
  readonly nets: NetMap
  readonly members: ReadonlyMap<string, Member>
  /** Ground, and nets that a source holds against it: which way what leads there hangs. */
  readonly rails = new Map<string, Way>()
  /** Nets that are joined by their name at every pin. */
  readonly named = new Set<string>()
  /** By the net that it hangs from. */
  readonly hanging = new Map<string, Hanging[]>()
  /** Links between nets that are neither rails nor hang. */
  readonly links: Link[] = []
  readonly pairs: readonly Pair[]
  /** Parts with more than two pins, of no pair, that a signal takes its way through. */
  readonly devices: Member[] = []
  /** Parts between two rails, and parts that nothing is joined to. */
  readonly apart: Member[] = []
  readonly input: string | null
  readonly output: string | null

  constructor(
    readonly circuit: Circuit,
    ends: Ends = {},
  ) {
    this.nets = NetMap.of(circuit)
    this.members = new Map(
      circuit.parts
        .filter((part) => part.kind !== 'ground')
        .map((part) => {
          const nets = partShape(part).pins.flatMap((pin) => {
            const net = this.nets.netOf(part.id, pin)
            return net === null ? [] : [[pin, net] as const]
          })
          return [part.id, { part, nets: new Map(nets) }] as const
        }),
    )
    const source = this.sourceNamed(ends.input)
    const [first] = ends.pins ?? []
    this.input = first ?? (source && (this.hotNetOf(source) ?? null))
    const output = ends.output ?? USUAL_OUTPUT
    this.output = this.nets.nets.includes(output) && output !== GROUND_NAME ? output : null
    this.findRails(source)
    this.findNamed()
    this.pairs = pairsOf(this)
    this.sort()
  }

  netOf(part: string, pin: string): string | undefined {
    return this.members.get(part)!.nets.get(pin)
  }

  /** Whether a net is drawn at each of its pins, and not as a wire. */
  isSymbol(net: string | undefined): boolean {
    return net !== undefined && (this.rails.has(net) || this.named.has(net))
  }

  hangingOf(net: string): readonly Hanging[] {
    return this.hanging.get(net) ?? []
  }

  /** What a transistor's pins are to it; null for other parts. */
  transistor({ part }: Member): Transistor | null {
    const { across, from, to } = partKind(part.kind).grows ?? {}
    if (!across || from === undefined || to === undefined) return null
    const [lower, upper] = across
    return { lower, upper, control: from, drain: to, source: to === upper ? lower : upper }
  }

  private membersOn(net: string): Member[] {
    return [...new Set(this.nets.pinsOf(net).map((p) => p.part))].flatMap((id) => this.members.get(id) ?? [])
  }

  /** The source that drives the circuit: the one named, else one with an AC magnitude, a waveform, else the first. */
  private sourceNamed(name?: string): Member | null {
    const sources = [...this.members.values()].filter((m) => isSource(m.part))
    return (
      sources.find((m) => m.part.id === name) ??
      sources.find((m) => (m.part.values.acMagnitude ?? 0) !== 0) ??
      sources.find((m) => m.part.waveform) ??
      sources[0] ??
      null
    )
  }

  private hotNetOf({ nets }: Member): string | undefined {
    return [...nets.values()].find((net) => net !== GROUND_NAME)
  }

  private findRails(input: Member | null): void {
    this.rails.set(GROUND_NAME, 'down')
    const held = [...this.members.values()].filter(
      (m) => m.part.kind === 'voltage-source' && m !== input && isSteady(m),
    )
    for (const { part, nets } of held) {
      const [plus, minus] = [nets.get('plus'), nets.get('minus')]
      const [net, sign] = minus === GROUND_NAME ? [plus, 1] : plus === GROUND_NAME ? [minus, -1] : [undefined, 0]
      if (net === undefined || net === this.input || net === this.output || this.rails.has(net)) continue
      const bias = part.values.bias ?? 0
      this.rails.set(net, bias * sign < 0 ? 'down' : 'up')
    }
  }

  /** Bias nets: controls of transistors, and what holds them against rails. */
  private findNamed(): void {
    for (const net of this.nets.nets) {
      if (this.rails.has(net) || net === this.input || net === this.output) continue
      const members = this.membersOn(net)
      const isControlled = (m: Member) => {
        const t = this.transistor(m)
        return t !== null && m.nets.get(t.control) === net && m.nets.get(t.lower) !== net && m.nets.get(t.upper) !== net
      }
      const others = members.filter((m) => !isControlled(m))
      if (others.length === members.length || others.length === 0) continue
      const isHeld = others.every((m) => {
        const t = this.transistor(m)
        if (t) {
          const [own, far] =
            m.nets.get(t.lower) === net
              ? [t.lower, t.upper]
              : m.nets.get(t.upper) === net
                ? [t.upper, t.lower]
                : [null, null]
          return own !== null && m.nets.get(t.control) === net && this.rails.has(m.nets.get(far)!)
        }
        const ends = twoEnds(m)
        return ends !== null && ends.some((pin) => this.rails.has(m.nets.get(pin)!))
      })
      if (isHeld) this.named.add(net)
    }
  }

  private sort(): void {
    const links: Link[] = []
    const paired = this.pairs.flatMap(membersOf)
    for (const member of this.members.values()) {
      if (paired.includes(member)) continue
      const link = this.asLink(member)
      if (!link) (member.nets.size < 2 ? this.apart : this.devices).push(member)
      else if (link.ends.every((pin) => this.rails.has(member.nets.get(pin)!))) this.apart.push(member)
      else links.push(link)
    }
    this.hang(links)
  }

  /** A part as something between two nets: null for what a signal takes its way through from one net to another. */
  private asLink(member: Member): Link | null {
    const ends = twoEnds(member)
    if (ends) return member.nets.get(ends[0]) === member.nets.get(ends[1]) ? null : { ...member, ends }
    const t = this.transistor(member)
    if (!t) return null
    const [lower, upper, control] = [t.lower, t.upper, t.control].map((pin) => member.nets.get(pin))
    if (lower === undefined || upper === undefined || lower === upper) return null
    const isQuiet = control === undefined || this.isSymbol(control) || control === upper || control === lower
    const isFromRail = this.rails.has(lower) !== this.rails.has(upper)
    const others = [...member.nets].filter(([pin]) => ![t.lower, t.upper, t.control].includes(pin))
    const isSimple = others.every(([, net]) => net === lower || net === upper || this.isSymbol(net))
    return isQuiet && isFromRail && isSimple ? { ...member, ends: [t.upper, t.lower] } : null
  }

  /** Finds what hangs: a link to a rail, then a net to which nothing else leads but what hangs, and so on. */
  private hang(all: readonly Link[]): void {
    const open = new Set(all)
    const devices = new Set([...this.devices, ...this.pairs.flatMap(membersOf)].flatMap((m) => [...m.nets.values()]))
    const onNet = new Map<string, Link[]>()
    for (const link of all)
      for (const pin of link.ends) {
        const net = link.nets.get(pin)!
        if (!this.rails.has(net)) onNet.set(net, [...(onNet.get(net) ?? []), link])
      }
    const add = (net: string, hanging: Hanging) => this.hanging.set(net, [...this.hangingOf(net), hanging])
    for (const link of all) {
      const [a, b] = link.ends
      const far = this.rails.has(link.nets.get(a)!) ? a : this.rails.has(link.nets.get(b)!) ? b : null
      if (far === null) continue
      open.delete(link)
      const pin = far === a ? b : a
      add(link.nets.get(pin)!, { link, pin, far, net: link.nets.get(far)!, below: [], beside: [] })
    }
    for (let found = true; found;) {
      found = false
      for (const net of onNet.keys()) {
        if (net === this.input || net === this.output || this.named.has(net) || devices.has(net)) continue
        const left = onNet.get(net)!.filter((link) => open.has(link))
        if (left.length === 0) continue
        const tops = new Set(left.map((link) => otherNet(link, net)))
        const [top] = tops
        if (tops.size !== 1 || this.isSymbol(top) || left.length > MOST_BESIDE) continue
        const below = this.hangingOf(net)
        if (new Set(below.map((h) => this.wayOf(h))).size > 1) continue
        const [link, ...beside] = left
        for (const l of left) open.delete(l)
        const pin = link.nets.get(link.ends[0]) === top ? link.ends[0] : link.ends[1]
        const far = pin === link.ends[0] ? link.ends[1] : link.ends[0]
        this.hanging.delete(net)
        add(top, { link, pin, far, net, below, beside })
        found = true
      }
    }
    this.links.push(...open)
  }

  /** Which way something hangs: to its rail. */
  wayOf({ net, below }: Hanging): Way {
    return below.length > 0 ? this.wayOf(below[0]) : (this.rails.get(net) ?? 'down')
  }
}

/** More than this between the same two nets is no hanging. */
const MOST_BESIDE = 3

const isSource = (part: Part) => part.kind === 'voltage-source' || part.kind === 'current-source'

const isSteady = ({ part }: Member) =>
  !part.waveform && (part.values.acMagnitude ?? 0) === 0 && part.formulas?.acMagnitude === undefined

/** The pins of a part that has two. */
function twoEnds({ part, nets }: Member): readonly [string, string] | null {
  const { pins } = partShape(part)
  return pins.length === 2 && nets.size === 2 ? [pins[0], pins[1]] : null
}

export function otherNet(link: Link, net: string): string {
  const [a, b] = link.ends
  return link.nets.get(a) === net ? link.nets.get(b)! : link.nets.get(a)!
}
