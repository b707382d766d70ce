import { expose } from 'comlink'
import { compute } from './compute'

expose({ compute })
