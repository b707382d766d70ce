import katex from 'katex'
import 'katex/dist/katex.min.css'

/** Typesets TeX into an element, with MathML beside it for who does not see it. */
export function typeset(tex: string, into: HTMLElement): void {
  katex.render(tex, into, { displayMode: false, throwOnError: false, output: 'htmlAndMathml' })
}
