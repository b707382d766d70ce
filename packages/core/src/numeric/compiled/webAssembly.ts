/** The part of the WebAssembly interface that is used here; the core's own library of types has no runtime in it. */
export interface WebAssemblyInterface {
  readonly Module: new (bytes: Uint8Array<ArrayBuffer>) => object
  readonly Memory: new (size: { initial: number; maximum: number }) => { readonly buffer: ArrayBuffer }
  readonly Instance: new (module: object, imports: object) => { readonly exports: Readonly<Record<string, unknown>> }
  readonly CompileError: new () => Error
}

/** The runtime's WebAssembly; undefined where it has none. */
export const webAssembly = (globalThis as { WebAssembly?: WebAssemblyInterface }).WebAssembly
