/** Storage that is full, as SQLite and the operating system say it. */
export const FULL = /SQLITE_FULL|ENOSPC|EDQUOT|database or disk is full|disk I\/O error/i

/** Whether storage that is full is the cause of an error. */
export function isFull(error: unknown): boolean {
  for (let e: unknown = error, depth = 0; e instanceof Error && depth < 5; e = e.cause, depth++)
    if (FULL.test(`${(e as { code?: string }).code ?? ''} ${e.message}`)) return true
  return false
}
