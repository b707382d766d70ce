import { biquadOf } from './biquad.js'
import type { Factor } from './factors.js'
import type { SectionKind } from './SectionKind.js'
import { allpassFirst } from './sections/allpassFirst.js'
import { allpassSecond } from './sections/allpassSecond.js'
import { bainter } from './sections/bainter.js'
import { boctor, bridgedTNotch } from './sections/bridgedNotches.js'
import { converterAny, converterBandpass, converterHighpass, fliegeLowpass } from './sections/converters.js'
import { deliyannis } from './sections/deliyannis.js'
import { firstOrderHighpass } from './sections/firstOrderHighpass.js'
import { firstOrderLowpass } from './sections/firstOrderLowpass.js'
import { firstOrderShelf } from './sections/firstOrderShelf.js'
import { inverterHighpass } from './sections/inverterHighpass.js'
import { inverterLowpass } from './sections/inverterLowpass.js'
import {
  compensatedAny,
  compensatedBandpass,
  compensatedHighpass,
  compensatedLowpass,
  towAny,
  towBandpass,
  towFour,
  towHighpass,
  towLowpass,
} from './sections/loops.js'
import { mfbBandpass } from './sections/mfbBandpass.js'
import { mfbHighpass } from './sections/mfbHighpass.js'
import { mfbLowpass } from './sections/mfbLowpass.js'
import { skBandpass } from './sections/skBandpass.js'
import { skEqualBandpass } from './sections/skEqualBandpass.js'
import { skEqualHighpass, skEqualLowpass } from './sections/skEqualEdges.js'
import { skHighpass } from './sections/skHighpass.js'
import { skLowpass } from './sections/skLowpass.js'
import {
  stateVariableAny,
  stateVariableBandpass,
  stateVariableHighpass,
  stateVariableLowpass,
} from './sections/stateVariable.js'
import { twinTAmplified, twinTHeld } from './sections/twinT.js'

/** Sections of one form of a family; of those that make a factor the first is taken. */
export interface FamilyForm {
  readonly id: string
  readonly name: string
  readonly sections: readonly SectionKind[]
  /** More gain than its sections have is refused, not made up for by an amplifier before them. */
  readonly amplifiesNot?: true
}

/** A family of sections that are put in a chain. */
export interface SectionFamily {
  readonly id: string
  readonly name: string
  /** One line for people choosing. */
  readonly character: string
  /** The first is taken where nothing is said. */
  readonly forms: readonly FamilyForm[]
  /** For what the family itself does not make beside what it does: first orders, the all-passes of a delay equaliser. */
  readonly companions: readonly SectionKind[]
}

const form = (...sections: readonly SectionKind[]): readonly FamilyForm[] => [{ id: '', name: '', sections }]

const ALLPASSES = [allpassFirst, allpassSecond]
const FOLLOWING = [firstOrderLowpass, firstOrderHighpass, ...ALLPASSES]
const INVERTING = [inverterLowpass, inverterHighpass, ...ALLPASSES, firstOrderShelf]
/** What a chain with stop-band zeros has sections without them made by. */
const BESIDE_NOTCHES = [...FOLLOWING, skLowpass, skHighpass, mfbBandpass, firstOrderShelf]

/** Every family of sections. A new one is one entry here; a new section is one file, and stands in the families that use it. */
export const SECTION_FAMILIES: readonly SectionFamily[] = [
  {
    id: 'sallen-key',
    name: 'Sallen–Key sections',
    character:
      'One amplifier for each pole pair: few parts, gain exact, the amplifier must be much faster than the filter.',
    forms: [
      {
        id: 'unity-gain',
        name: 'Unity gain',
        sections: [skLowpass, skHighpass, skBandpass],
        amplifiesNot: true,
      },
      { id: 'equal-parts', name: 'Equal parts', sections: [skEqualLowpass, skEqualHighpass, skEqualBandpass] },
    ],
    companions: [skLowpass, skHighpass, ...FOLLOWING],
  },
  {
    id: 'multiple-feedback',
    name: 'Multiple-feedback sections',
    character: 'One amplifier for each pole pair, its gain set by resistors; it turns the signal over.',
    forms: form(mfbLowpass, mfbHighpass, mfbBandpass),
    companions: INVERTING,
  },
  {
    id: 'deliyannis',
    name: 'Band-pass sections with positive feedback',
    character: 'A narrow band-pass with one amplifier: a little positive feedback keeps its resistors close together.',
    forms: form(deliyannis),
    companions: [mfbBandpass, ...INVERTING],
  },
  {
    id: 'twin-t',
    name: 'Twin-T notch sections',
    character: 'The classic notch: two Ts cancel at one frequency, an amplifier sets its width.',
    forms: form(twinTHeld, twinTAmplified),
    companions: BESIDE_NOTCHES,
  },
  {
    id: 'bridged-t-notch',
    name: 'Bridged-T notch sections',
    character: 'A notch with one amplifier: depth by the ratio of two resistors.',
    forms: form(bridgedTNotch),
    companions: BESIDE_NOTCHES,
  },
  {
    id: 'bainter',
    name: 'Bainter notch sections',
    character: 'Zeros whose depth does not hang on matched parts; the Q apart from them. Three amplifiers.',
    forms: form(bainter),
    companions: BESIDE_NOTCHES,
  },
  {
    id: 'boctor',
    name: 'Boctor notch sections',
    character: 'Zeros beside the poles with one amplifier: fewest parts for an elliptic response.',
    forms: form(boctor),
    companions: BESIDE_NOTCHES,
  },
  {
    id: 'fliege',
    name: 'Fliege sections',
    character: 'Two amplifiers for each pole pair: Q by one resistor, little sensitive, up to high Q.',
    forms: form(fliegeLowpass, converterHighpass, converterBandpass, converterAny),
    companions: [...FOLLOWING, firstOrderShelf],
  },
  {
    id: 'impedance-converter',
    name: 'Impedance-converter sections',
    character: 'One circuit of two amplifiers for every second-order response.',
    forms: form(converterAny),
    companions: [...FOLLOWING, firstOrderShelf],
  },
  {
    id: 'state-variable',
    name: 'State-variable sections',
    character: 'Low-pass, band-pass and high-pass at once from three amplifiers; a fourth adds them to any response.',
    forms: form(stateVariableLowpass, stateVariableHighpass, stateVariableBandpass, stateVariableAny),
    companions: INVERTING,
  },
  {
    id: 'two-integrator-loop',
    name: 'Two-integrator loops',
    character: 'Three amplifiers, any response: frequency, Q and gain are set one by one.',
    forms: [
      {
        id: 'three-amplifier',
        name: 'Three amplifiers',
        sections: [towLowpass, towBandpass, towHighpass, towAny],
      },
      {
        id: 'four-amplifier',
        name: 'Four amplifiers',
        // What raises its resonance the fourth amplifier only takes away.
        sections: [towLowpass, towBandpass, towFour, towAny],
      },
    ],
    companions: INVERTING,
  },
  {
    id: 'akerberg-mossberg',
    name: 'Compensated biquads',
    character: 'Three amplifiers whose phase errors cancel: keeps its Q up to higher frequencies.',
    forms: form(compensatedLowpass, compensatedBandpass, compensatedHighpass, compensatedAny),
    companions: INVERTING,
  },
  {
    id: 'active-allpass',
    name: 'All-pass sections',
    character:
      'Every frequency passes alike, its phase turns: for a phase, a delay, or to even out another filter’s delay.',
    forms: form(allpassFirst, allpassSecond),
    companions: [...FOLLOWING, skLowpass, skHighpass, mfbBandpass],
  },
]

/** All sections of a family, whatever its form. */
export const sectionsOf = ({ forms, companions }: SectionFamily): readonly SectionKind[] => [
  ...new Set([...forms.flatMap((f) => f.sections), ...companions]),
]

/** Every kind of section once. */
export const SECTION_KINDS: readonly SectionKind[] = [...new Set(SECTION_FAMILIES.flatMap(sectionsOf))]

/** The families whose own sections make a factor. */
export function whoMakes(factor: Factor): string[] {
  return SECTION_FAMILIES.filter(({ forms }) =>
    forms.some(({ sections }) => sections.some((k) => k.fits(factor) && !k.refuses?.(biquadOf(factor, 1)))),
  ).map(({ id }) => id)
}
