import { VoskelError } from '../errors/VoskelError.js'

/** What something is refused with: code, what is wrong and what would be right; `no error` where it is not. */
export function refusalOf(of: () => unknown): string {
  try {
    of()
  } catch (error) {
    if (error instanceof VoskelError) return `${error.code}: ${error.message} ${error.remedy}`
    throw error
  }
  return 'no error'
}
