import { spawnSync } from 'node:child_process'
import { arranged, drawingOf, partTexts, readNetlist } from '@voskel/core'
import { type Figure, least } from './report.js'

/** Sections with a unity-gain amplifier, five parts each, with a source and a load. */
function cascade(sections: number): string {
  const net = (k: number) => (k === 0 ? 'in' : k === sections ? 'out' : `o${k}`)
  const lines = Array.from({ length: sections }, (_, k) => [
    `RA${k} ${net(k)} a${k} 10k`,
    `RB${k} a${k} b${k} 10k`,
    `CA${k} a${k} ${net(k + 1)} 20n`,
    `CB${k} b${k} 0 10n`,
    `X${k} b${k} ${net(k + 1)} ${net(k + 1)} ideal`,
  ])
  const ideal = ['.subckt ideal plus minus out', 'E1 out 0 plus minus 1e8', '.ends']
  return ['Cascade', ...ideal, 'V1 in 0 AC 1', ...lines.flat(), 'RL out 0 10k', '.end'].join('\n')
}

function draw(netlist: string): void {
  const { circuit } = readNetlist(netlist)
  const textOf = partTexts(circuit)
  drawingOf(arranged(circuit, textOf), textOf)
}

/** Seconds of the first drawing that a process makes, the netlist's reading included. */
function first(netlist: string): number {
  const code = `import { arranged, drawingOf, partTexts, readNetlist } from '@voskel/core'
    const began = performance.now()
    const { circuit } = readNetlist(${JSON.stringify(netlist)})
    const textOf = partTexts(circuit)
    drawingOf(arranged(circuit, textOf), textOf)
    console.log((performance.now() - began) / 1000)`
  const times = [1, 2, 3].map(() => {
    const run = spawnSync(process.execPath, ['--input-type=module', '-e', code], { encoding: 'utf8' })
    return Number(run.stdout)
  })
  return Math.min(...times)
}

/** A netlist as a drawing: places, wires and labels. */
export function drawingFigures(): Figure[] {
  const [small, large] = [cascade(12), cascade(60)]
  const figure = (name: string, seconds: number, wanted: string): Figure => ({
    name,
    value: seconds * 1000,
    unit: 'ms',
    wanted,
  })
  return [
    figure(
      '62 parts drawn, warm',
      least(15, () => draw(small)),
      '< 100',
    ),
    figure(
      '302 parts drawn, warm',
      least(7, () => draw(large)),
      '< 500',
    ),
    figure('62 parts drawn, the first time', first(small), '< 300'),
    figure('302 parts drawn, the first time', first(large), '< 1000'),
  ]
}
