import type { Client } from '@libsql/client'

/** A text that held bytes which are none, and was mended. */
export interface Mended {
  readonly table: string
  readonly column: string
  /** What names the row: its first column. */
  readonly row: string
}

/** Rows that are looked at at a time. */
const AT_A_TIME = 100

/**
 * Mends texts in which bytes are no UTF-8: the driver would end the whole server where it met one. Each such byte becomes U+FFFD,
 * as every reader of text shows it; all others stay.
 *
 * @returns what was mended
 */
export async function mendTexts(client: Client): Promise<Mended[]> {
  const strict = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true })
  const lenient = new TextDecoder('utf-8', { ignoreBOM: true })
  const mended: Mended[] = []
  const { rows: tables } = await client.execute(
    "select name from sqlite_master where type = 'table' and name not like 'sqlite\\_%' escape '\\'",
  )
  for (const table of tables.map((row) => String(row[0]))) {
    const { rows: columns } = await client.execute(`pragma table_info("${table}")`)
    const texts = columns.filter((row) => /text/i.test(String(row[2]))).map((row) => String(row[1]))
    const first = texts[0]
    if (first === undefined) continue
    const wanted = texts.map((column) => `case typeof("${column}") when 'text' then cast("${column}" as blob) end`)
    let after = -1
    for (;;) {
      const { rows } = await client.execute({
        sql: `select rowid, ${wanted.join(', ')} from "${table}" where rowid > ? order by rowid limit ${AT_A_TIME}`,
        args: [after],
      })
      for (const row of rows) {
        after = Number(row[0])
        for (const [k, column] of texts.entries()) {
          const bytes = row[k + 1] as ArrayBuffer | null
          if (bytes === null || isText(strict, bytes)) continue
          const text = lenient.decode(bytes)
          await client.execute({ sql: `update "${table}" set "${column}" = ? where rowid = ?`, args: [text, after] })
          mended.push({ table, column, row: lenient.decode(row[1] as ArrayBuffer) })
        }
      }
      if (rows.length < AT_A_TIME) break
    }
  }
  return mended
}

function isText(strict: { decode(bytes: ArrayBuffer): string }, bytes: ArrayBuffer): boolean {
  try {
    strict.decode(bytes)
    return true
  } catch {
    return false
  }
}
