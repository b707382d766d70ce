import { jobs } from './jobs'
import { doOrder, type Order } from './protocol'

self.onmessage = ({ data }: MessageEvent<Order>) => doOrder(data, jobs, (report) => self.postMessage(report))
