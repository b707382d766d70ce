import { jobs } from './jobs'
import { type Message, type Order, OrderQueue } from './protocol'
import { warmUp } from './warmUp'

// A message to itself comes after those that have been sent already.
const { port1, port2 } = new MessageChannel()
const steps: (() => void)[] = []
port1.onmessage = () => steps.shift()?.()
const later = (step: () => void) => {
  steps.push(step)
  port2.postMessage(null)
}

/** ms without an order after which the worker has nothing to do, and between two steps of warming up */
const IDLE = 250
const BETWEEN = 4

/** The last order of each topic, to warm up with; once. */
const last = new Map<string, Order>()
let warming: Generator<void> | null = null
let timer: ReturnType<typeof setTimeout> | undefined

function warm() {
  warming ??= warmUp(jobs, [...last.values()])
  if (!warming.next().done) timer = setTimeout(warm, BETWEEN)
}

const queue = new OrderQueue(jobs, (report) => self.postMessage(report), later)
self.onmessage = ({ data }: MessageEvent<Message>) => {
  const order = queue.heard(data)
  // Only what follows every edit is worth warming up for.
  if (!order || self.name !== 'live') return
  last.set(order.topic, order)
  clearTimeout(timer)
  timer = setTimeout(warm, IDLE)
}
