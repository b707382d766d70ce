/** The package has no types of its own: what is used of it. */
declare module 'svgcanvas' {
  export class Context {
    constructor(options: { width: number; height: number; ctx?: CanvasRenderingContext2D; document?: Document })
    getSerializedSvg(fixNamedEntities?: boolean): string
  }
}
