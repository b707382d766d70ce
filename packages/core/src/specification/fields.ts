/** A quantity as forms show it. */
export interface QuantityField {
  readonly id: string
  readonly name: string
  readonly kind: 'quantity'
  readonly unit: string
  readonly default: number
  readonly optional?: boolean
  /** What an empty optional field means. */
  readonly empty?: string
}

/** One of several, as forms show it. */
export interface ChoiceField {
  readonly id: string
  readonly name: string
  readonly kind: 'choice'
  readonly default: string
  readonly choices: readonly { readonly id: string; readonly name: string }[]
}
