import { createServer, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import Database from 'libsql'

/** Requests and answers of libSQL's protocol over HTTP, version 2, as far as the client speaks it. */
type Value =
  | { type: 'null' }
  | { type: 'integer'; value: string }
  | { type: 'float'; value: number }
  | { type: 'text'; value: string }
  | { type: 'blob'; base64: string }
interface Stmt {
  sql?: string
  sql_id?: number
  args?: Value[]
  named_args?: { name: string; value: Value }[]
}
type Condition =
  | { type: 'ok' | 'error'; step: number }
  | { type: 'not'; cond: Condition }
  | { type: 'and' | 'or'; conds: Condition[] }
  | { type: 'is_autocommit' }
type Request =
  | { type: 'close' | 'get_autocommit' }
  | { type: 'execute'; stmt: Stmt }
  | { type: 'batch'; batch: { steps: { condition?: Condition; stmt: Stmt }[] } }
  | { type: 'sequence'; sql?: string; sql_id?: number }
  | { type: 'store_sql'; sql_id: number; sql: string }
  | { type: 'close_sql'; sql_id: number }

/** A connection that lives over several requests. */
interface Stream {
  readonly db: Database.Database
  readonly stored: Map<number, string>
  expiry?: NodeJS.Timeout
}

/** ms after which a stream that nobody goes on with ends, and what it had not committed with it. */
const EXPIRY = 300

/** A libSQL server's stand-in for tests: the client's own protocol over a local file. */
export class LibsqlStandIn {
  private server: Server | null = null
  private port = 0
  private readonly streams = new Map<string, Stream>()
  private count = 0
  /** The stream that is in a transaction; the others wait for its end. */
  private holder: Stream | null = null
  private waiting: (() => void)[] = []

  constructor(private readonly file: string) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`
  }

  /** Starts it; after a stop at the same port. */
  async start(): Promise<void> {
    this.server = createServer((req, res) => {
      void this.answer(req).then((body) => {
        res.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(body))
      })
    })
    await new Promise<void>((done) => this.server!.listen(this.port, '127.0.0.1', done))
    this.port = (this.server.address() as AddressInfo).port
  }

  /** Ends it as a power cut would: nothing open is committed. */
  async stop(): Promise<void> {
    const { server } = this
    this.server = null
    for (const [baton, stream] of this.streams) this.end(baton, stream)
    await new Promise((done) => {
      server?.close(done)
      server?.closeAllConnections()
    })
  }

  private async answer(req: IncomingMessage): Promise<unknown> {
    const pieces: Buffer[] = []
    for await (const piece of req) pieces.push(piece as Buffer)
    const { baton, requests } = JSON.parse(Buffer.concat(pieces).toString()) as {
      baton?: string
      requests: Request[]
    }
    const known = baton === undefined ? undefined : this.streams.get(baton)
    const stream: Stream = known ?? { db: new Database(this.file), stored: new Map() }
    const own = known && baton ? baton : String(++this.count)
    this.streams.set(own, stream)
    clearTimeout(stream.expiry)
    while (this.holder !== null && this.holder !== stream) await new Promise<void>((done) => this.waiting.push(done))
    const results = requests.map((request) => {
      try {
        return { type: 'ok', response: { type: request.type, ...this.perform(own, stream, request) } }
      } catch (error) {
        const { message, code } = error as { message: string; code?: string }
        return { type: 'error', error: { message, code: code ?? 'SQLITE_ERROR' } }
      }
    })
    const open = this.streams.has(own)
    this.hold(open && stream.db.inTransaction ? stream : null)
    if (open) stream.expiry = setTimeout(() => this.end(own, stream), EXPIRY)
    return { baton: open ? own : null, base_url: null, results }
  }

  private hold(stream: Stream | null): void {
    this.holder = stream
    if (stream === null) for (const go of this.waiting.splice(0)) go()
  }

  private end(baton: string, stream: Stream): void {
    clearTimeout(stream.expiry)
    this.streams.delete(baton)
    if (stream.db.inTransaction) stream.db.exec('ROLLBACK')
    stream.db.close()
    if (this.holder === stream) this.hold(null)
  }

  private perform(baton: string, stream: Stream, request: Request): object {
    const { db, stored } = stream
    switch (request.type) {
      case 'close':
        this.end(baton, stream)
        return {}
      case 'get_autocommit':
        return { is_autocommit: !db.inTransaction }
      case 'store_sql':
        stored.set(request.sql_id, request.sql)
        return {}
      case 'close_sql':
        stored.delete(request.sql_id)
        return {}
      case 'sequence':
        db.exec(request.sql ?? stored.get(request.sql_id!)!)
        return {}
      case 'execute':
        return { result: execute(stream, request.stmt) }
      case 'batch':
        return { result: batch(stream, request.batch.steps) }
    }
  }
}

function batch(stream: Stream, steps: readonly { condition?: Condition; stmt: Stmt }[]) {
  const results: unknown[] = []
  const errors: unknown[] = []
  const holds = (condition: Condition): boolean => {
    switch (condition.type) {
      case 'ok':
        return results[condition.step] !== null
      case 'error':
        return errors[condition.step] !== null
      case 'not':
        return !holds(condition.cond)
      case 'and':
        return condition.conds.every(holds)
      case 'or':
        return condition.conds.some(holds)
      case 'is_autocommit':
        return !stream.db.inTransaction
    }
  }
  steps.forEach(({ condition, stmt }, k) => {
    results[k] = errors[k] = null
    if (condition && !holds(condition)) return
    try {
      results[k] = execute(stream, stmt)
    } catch (error) {
      errors[k] = { message: (error as Error).message, code: (error as { code?: string }).code ?? 'SQLITE_ERROR' }
    }
  })
  return { step_results: results, step_errors: errors }
}

function execute({ db, stored }: Stream, { sql, sql_id, args = [], named_args = [] }: Stmt) {
  const statement = db.prepare(sql ?? stored.get(sql_id!)!).safeIntegers(true)
  const named = Object.fromEntries(named_args.map(({ name, value }) => [name.replace(/^[:@$]/, ''), plain(value)]))
  const values: unknown[] = named_args.length > 0 ? [named] : args.map(plain)
  const columns = statement.reader ? statement.columns().map(({ name }) => ({ name, decltype: null })) : []
  const rows = statement.reader ? (statement.raw(true).all(...values) as unknown[][]) : []
  if (!statement.reader) statement.run(...values)
  const [changes, last] = db.prepare('select changes(), last_insert_rowid()').raw(true).get() as [number, number]
  return {
    cols: columns,
    rows: rows.map((row) => row.map(sent)),
    affected_row_count: changes,
    last_insert_rowid: String(last),
  }
}

function plain(value: Value): unknown {
  switch (value.type) {
    case 'null':
      return null
    case 'integer':
      return BigInt(value.value)
    case 'blob':
      return Buffer.from(value.base64, 'base64')
    default:
      return value.value
  }
}

function sent(value: unknown): Value {
  if (value === null || value === undefined) return { type: 'null' }
  if (typeof value === 'bigint') return { type: 'integer', value: String(value) }
  if (typeof value === 'number') return { type: 'float', value }
  if (value instanceof Uint8Array) return { type: 'blob', base64: Buffer.from(value).toString('base64') }
  return { type: 'text', value: value as string }
}
