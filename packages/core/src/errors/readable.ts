/** Longest piece of a user's text that a message repeats, and longest message, characters. */
const LONGEST_WORD = 80
const LONGEST_MESSAGE = 2000

/** Control characters, and those that turn the direction of writing or cannot be seen. */
const UNSEEN = /[\p{Cc}\u200b-\u200f\u2028-\u202e\u2060-\u2069\ufeff]|\p{Cs}/gu

/**
 * A message that repeats what a user typed, made fit to be read: what cannot be seen is written out, long words and
 * quotations are cut.
 */
export function readable(message: string): string {
  const seen = message.replace(UNSEEN, (sign) => `\\u{${sign.codePointAt(0)!.toString(16)}}`)
  const short = seen.replace(/"[^"]*"|\S+/gu, (piece) => {
    if (piece.length <= LONGEST_WORD) return piece
    return piece.startsWith('"') ? `${piece.slice(0, LONGEST_WORD)}…"` : `${piece.slice(0, LONGEST_WORD)}…`
  })
  return short.length > LONGEST_MESSAGE ? `${short.slice(0, LONGEST_MESSAGE)}…` : short
}

/** Whether a string is text: without the character 0, which ends strings elsewhere, and without half characters. */
export const isText = (value: string): boolean => !/\0|\p{Cs}/u.test(value)
