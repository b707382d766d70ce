/** A text with the encoding that it was found to have. */
export interface DecodedText {
  readonly text: string
  readonly encoding: 'UTF-8' | 'UTF-16' | 'Windows-1252'
}

/** Every runtime of the core has it (WHATWG Encoding Standard); the language by itself does not. */
declare const TextDecoder: new (label: string, options?: { fatal?: boolean }) => { decode(bytes: Uint8Array): string }

/** Bytes that are looked at for zeros, which stand in every other place of a Latin text in UTF-16. */
const LOOKED_AT = 512

/** The text of a file: UTF-16 and UTF-8 by their marks or their shape, anything else as Windows-1252, which takes every byte. */
export function decodeText(bytes: Uint8Array): DecodedText {
  const [a, b] = bytes
  if (a === 0xff && b === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' }
  if (a === 0xfe && b === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' }
  const head = bytes.subarray(0, LOOKED_AT)
  const zeros = (odd: number) => head.reduce((count, v, k) => count + Number(v === 0 && k % 2 === odd), 0)
  if (zeros(1) > head.length / 4) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' }
  if (zeros(0) > head.length / 4) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' }
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' }
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'Windows-1252' }
  }
}
