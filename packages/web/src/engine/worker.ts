import { jobs } from './jobs'
import { type Message, OrderQueue } from './protocol'

// A message to itself comes after those that have been sent already.
const { port1, port2 } = new MessageChannel()
const steps: (() => void)[] = []
port1.onmessage = () => steps.shift()?.()
const later = (step: () => void) => {
  steps.push(step)
  port2.postMessage(null)
}

const queue = new OrderQueue(jobs, (report) => self.postMessage(report), later)
self.onmessage = ({ data }: MessageEvent<Message>) => queue.heard(data)
