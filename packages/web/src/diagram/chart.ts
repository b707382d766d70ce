import { Chart, LinearScale, LineController, LineElement, LogarithmicScale, type Plugin, PointElement } from 'chart.js'
import annotation from 'chartjs-plugin-annotation'
import zoom from 'chartjs-plugin-zoom'

/** Writes each curve's name at its end, so that colour is not needed to tell them apart. */
const endLabels: Plugin<'line'> = {
  id: 'endLabels',
  afterDatasetsDraw(chart) {
    const { ctx, chartArea } = chart
    const taken: number[] = []
    ctx.save()
    ctx.font = `600 13px ${Chart.defaults.font.family}`
    ctx.textAlign = 'right'
    ctx.textBaseline = 'bottom'
    chart.data.datasets.forEach((set, k) => {
      if (!set.label || !chart.isDatasetVisible(k)) return
      const points = chart.getDatasetMeta(k).data
      const last = points.findLast((p) => p.x <= chartArea.right && p.y <= chartArea.bottom && p.y >= chartArea.top)
      if (!last) return
      let y = Math.min(chartArea.bottom - 4, Math.max(chartArea.top + 18, last.y - 5))
      // Names that would cover each other are stacked towards the middle of the diagram.
      const away = y > (chartArea.top + chartArea.bottom) / 2 ? -16 : 16
      while (taken.some((t) => Math.abs(t - y) < 15)) y += away
      taken.push(y)
      const x = Math.min(last.x, chartArea.right) - 14
      ctx.lineWidth = 4
      ctx.strokeStyle = (chart.options.plugins as { endLabels?: { halo?: string } }).endLabels?.halo ?? '#fff'
      ctx.strokeText(set.label, x, y)
      ctx.fillStyle = set.borderColor as string
      ctx.fillText(set.label, x, y)
    })
    ctx.restore()
  },
}

Chart.register(LineController, LineElement, PointElement, LinearScale, LogarithmicScale, annotation, zoom, endLabels)
Chart.defaults.font.family = "'Source Sans 3 Variable', sans-serif"
Chart.defaults.font.size = 13

/** The diagrams' font as a canvas names it. */
export const FONT = `${Chart.defaults.font.size}px ${Chart.defaults.font.family}`

Chart.defaults.animation = false

export { Chart }
