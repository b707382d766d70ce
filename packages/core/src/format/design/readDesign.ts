import type { z } from 'zod'
import { partKind } from '../../circuit/parts/index.js'
import { isText } from '../../errors/readable.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { parseSignal } from '../../quantity/signal.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { DEEPEST } from '../jsonText.js'
import { asked } from './asked.js'
import { type Design, DESIGN_VERSION, DesignSchema } from './Design.js'
import { blocksOf } from './blocks.js'
import type { Diagram } from './diagrams.js'
import type { Block } from './Upgrade.js'
import { upgrades } from './upgrades.js'

/**
 * A design from parsed JSON, of this version or an earlier one.
 *
 * @throws VoskelError `DESIGN_NEWER`, `DESIGN_INVALID`, `SPEC_INVALID` or `NOT_OFFERED`, placed by path
 */
export function readDesign(value: unknown): Design {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw invalid('it is no JSON object', '')
  const head = value as Record<string, unknown>
  if (head.format !== 'voskel-design') throw invalid('"format" is not "voskel-design"', 'format')
  if (typeof head.version === 'number' && head.version > DESIGN_VERSION) {
    throw new VoskelError('DESIGN_NEWER', { version: head.version, known: DESIGN_VERSION }, { path: 'version' })
  }
  checkTree(value)
  checkSpecification(head)
  const earlier = upgrades.find((u) => u.version === head.version)
  if (earlier) {
    const document = parse(earlier.schema, value)
    earlier.blocksOf(document).forEach(checkKinds)
    const upgraded = earlier.upgrade(document)
    checkSignals(upgraded)
    return upgraded
  }
  const { specification, requirements, ...rest } = parse(DesignSchema, value)
  blocksOf(rest.circuit).forEach(checkKinds)
  checkSignals(rest)
  return { ...rest, ...asked(specification, requirements) }
}

/** Judges a specification with what is required beside it: an order may follow from that alone. */
function checkSpecification({ specification, requirements: beside }: Record<string, unknown>): void {
  if (specification === undefined) return
  const isObject = typeof specification === 'object' && specification !== null && !Array.isArray(specification)
  const own = isObject ? (specification as Record<string, unknown>).requirements : undefined
  const inside = Array.isArray(own) ? own.length : 0
  const isJoined = isObject && Array.isArray(beside) && (own === undefined || Array.isArray(own))
  try {
    parseSpec(isJoined ? { ...specification, requirements: [...((own as unknown[]) ?? []), ...beside] } : specification)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    const { path = '' } = error.place
    // What stands beside the specification is named where it stands.
    const [, at, rest] = /^requirements\.(\d+)(.*)$/.exec(path) ?? []
    const isBeside = isJoined && at !== undefined && Number(at) >= inside
    throw error.at({
      path: isBeside ? `requirements.${Number(at) - inside}${rest}` : ['specification', path].filter(Boolean).join('.'),
    })
  }
}

function checkSignals({ diagrams, figures, study }: Pick<Design, 'diagrams' | 'figures' | 'study'>): void {
  if (study?.output !== undefined) readable(study.output, 'study.output')
  const check = ({ signals, right }: Diagram, path: string) => {
    signals.forEach((text, j) => readable(text, `${path}.signals.${j}`))
    right?.signals.forEach((text, j) => readable(text, `${path}.right.signals.${j}`))
  }
  diagrams?.forEach((diagram, k) => check(diagram, `diagrams.${k}`))
  figures?.forEach(({ diagram }, k) => check(diagram, `figures.${k}.diagram`))
}

function parse<T>(schema: z.ZodType<T>, value: unknown): T {
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  const issue = parsed.error.issues[0]
  const path = issue.path.map(String).join('.')
  throw invalid(`"${path || 'the whole'}" does not fit: ${issue.message}`, path)
}

/** Refuses what no text holds and what is nested without end, before anything walks through it. */
function checkTree(value: unknown): void {
  const open: { value: unknown; path: readonly string[] }[] = [{ value, path: [] }]
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    const { value, path } = next
    if (path.length > DEEPEST) throw invalid(`it is nested more than ${DEEPEST} deep`, path.slice(0, 3).join('.'))
    if (typeof value === 'string' && !isText(value)) {
      throw invalid(`"${path.join('.')}" holds a character that no text has`, path.join('.'))
    }
    if (typeof value !== 'object' || value === null) continue
    for (const [key, member] of Object.entries(value)) {
      if (!isText(key)) throw invalid('a name holds a character that no text has', path.join('.'))
      open.push({ value: member, path: [...path, key] })
    }
  }
}

/** @throws VoskelError `NOT_OFFERED` at the first part or model whose kind is none of ours */
function checkKinds([path, circuit]: Block): void {
  const check = (at: string, { parts, models }: Pick<Block[1], 'parts' | 'models'>) => {
    parts.forEach(({ kind }, k) => knownKind(kind, `${at}.parts.${k}.kind`))
    for (const [name, { kind }] of Object.entries(models ?? {})) knownKind(kind, `${at}.models.${name}.kind`)
  }
  check(path, circuit)
  for (const [name, block] of Object.entries(circuit.subcircuits ?? {})) check(`${path}.subcircuits.${name}`, block)
}

/** @throws VoskelError `SIGNAL_INVALID` */
function readable(signal: string, path: string): void {
  try {
    parseSignal(signal)
  } catch (error) {
    throw error instanceof VoskelError ? error.at({ path }) : error
  }
}

function knownKind(kind: string, path: string): void {
  try {
    partKind(kind)
  } catch (error) {
    throw error instanceof VoskelError ? error.at({ path }) : error
  }
}

function invalid(problem: string, path: string): VoskelError {
  return new VoskelError('DESIGN_INVALID', { problem }, { path })
}
