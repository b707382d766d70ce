import { findNodeAtLocation, type Node, parseTree, printParseErrorCode, type ParseError } from 'jsonc-parser'
import { VoskelError } from '../errors/VoskelError.js'

/** Levels of arrays and objects in each other; a design has eight. */
export const DEEPEST = 64

/** JSON with the places of its values, so that an error about a value can say where it stands. */
export interface LocatedJson {
  readonly value: unknown
  /** Line and column, both 1-based, of the value at a path such as `passband.edges.0`, or of the nearest one around it. */
  locate(path: string): { line: number; column: number }
}

/** @throws VoskelError `DESIGN_INVALID` at the place where the text stops being JSON */
export function parseJson(text: string): LocatedJson {
  const deep = firstTooDeep(text)
  if (deep !== null)
    throw new VoskelError('DESIGN_INVALID', { problem: `it is nested more than ${DEEPEST} deep` }, position(text, deep))
  const errors: ParseError[] = []
  const tree = parseTree(text, errors, { disallowComments: true })
  const first = errors[0]
  if (first || !tree) {
    const place = position(text, first?.offset ?? 0)
    const problem = first ? `JSON is broken here (${spaced(printParseErrorCode(first.error))})` : 'it is empty'
    throw new VoskelError('DESIGN_INVALID', { problem }, place)
  }
  return { value: JSON.parse(text) as unknown, locate: (path) => position(text, nearest(tree, path).offset) }
}

/** Where brackets stand deeper in each other than any document's; null where they do not. */
function firstTooDeep(text: string): number | null {
  let depth = 0
  for (const { 0: sign, index } of text.matchAll(/"(?:[^"\\]|\\.)*"|[[\]{}]/gs)) {
    if (sign === '{' || sign === '[') depth++
    else if (sign === '}' || sign === ']') depth--
    if (depth > DEEPEST) return index
  }
  return null
}

function nearest(tree: Node, path: string): Node {
  const steps = path === '' ? [] : path.split('.').map((s) => (/^\d+$/.test(s) ? Number(s) : s))
  for (let length = steps.length; length > 0; length--) {
    const node = findNodeAtLocation(tree, steps.slice(0, length))
    if (node) return node
  }
  return tree
}

function position(text: string, offset: number): { line: number; column: number } {
  const before = text.slice(0, offset)
  const line = before.split('\n').length
  return { line, column: offset - (before.lastIndexOf('\n') + 1) + 1 }
}

/** `ValueExpected` → `value expected`. */
function spaced(code: string): string {
  return code
    .replace(/([A-Z])/g, ' $1')
    .trim()
    .toLowerCase()
}
