/** Longest that a name may be before a number is appended. */
const LONGEST = 200

/**
 * Names for a netlist, where letters mean the same in both cases and some signs mean something: each wanted name gets
 * one of its own, unchanged where it may stand as it is.
 */
export class Naming {
  private readonly given = new Map<string, string>()
  private readonly taken = new Set<string>()

  /** @param taken names that nothing else may get, in any case */
  constructor(taken: Iterable<string> = []) {
    for (const name of taken) this.taken.add(name.toLowerCase())
  }

  /**
   * The name for what `key` stands for: the same at every call.
   *
   * @param wanted what it would be called; the key itself unless said otherwise
   */
  name(key: string, wanted = key): string {
    const known = this.given.get(key)
    if (known !== undefined) return known
    const legal = legalWord(wanted).slice(0, LONGEST)
    let name = legal
    for (let k = 2; this.taken.has(name.toLowerCase()); k++) name = `${legal}_${k}`
    this.taken.add(name.toLowerCase())
    this.given.set(key, name)
    return name
  }

  /** The name of a key that has one, or of the one key that is the same in another case of letters. */
  maybeName(key: string): string | undefined {
    const known = this.given.get(key)
    if (known !== undefined) return known
    const same = [...this.given.keys()].filter((k) => k.toLowerCase() === key.toLowerCase())
    return same.length === 1 ? this.given.get(same[0]) : undefined
  }

  /** Names what may stand as it is first, so that it keeps its name. */
  reserve(names: Iterable<string>, wanted: (name: string) => string = (name) => name): void {
    const all = [...names]
    const exact = all.filter((name) => wanted(name) === name)
    const inAnyCase = all.filter((name) => wanted(name).toLowerCase() === name.toLowerCase())
    for (const name of [...exact, ...inAnyCase, ...all]) this.name(name, wanted(name))
  }
}

/** A word with nothing in it that a netlist reads as a sign, and a letter, digit or `_` in front. */
export function legalWord(text: string): string {
  // Control characters, blanks, and the signs that begin comments, continuations, expressions or lists.
  const plain = text.replace(/[^\p{L}\p{N}_.:+\-#$@!?/<>[\]|~&^%°µ]+/gu, '_')
  return /^[\p{L}\p{N}_]/u.test(plain) ? plain : `_${plain}`
}
