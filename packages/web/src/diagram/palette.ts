/** The colours of the page as the diagrams need them: resolved, since a canvas does not know custom properties. */
export interface Palette {
  ink: string
  soft: string
  line: string
  grid: string
  paper: string
  mask: string
  maskEdge: string
  met: string
  missed: string
  curves: readonly string[]
}
