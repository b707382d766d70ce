import { describe, expect, test } from 'vitest'
import { readDraft } from './draft.js'
import { specIssues } from './filterSpec.js'

describe('a specification that is being typed', () => {
  test.each<[string, object]>([
    ['an edge below nothing', { response: 'lowpass', approximation: 'bessel', passband: { edges: [-1] } }],
    ['an order without end', { response: 'lowpass', approximation: 'x', order: 1e9, passband: { edges: [] } }],
    [
      'what its requirement lacks',
      {
        response: 'bandpass',
        approximation: 'bessel',
        passband: { edges: [1, 2] },
        requirements: [{ kind: 'x', limit: -1 }],
      },
    ],
    ['a shape without its values', { response: 'notch', shape: {} }],
    ['half a mask', { response: 'masked', shape: { levels: [[10, null, 0]] } }],
  ])('with %s can be shown and corrected, though not used', (_, draft) => {
    expect(readDraft(draft)).toEqual(draft)
    expect(specIssues(draft)).not.toEqual([])
  })

  test.each<[string, unknown]>([
    ['nothing', undefined],
    ['a text', 'lowpass'],
    ['a list', []],
    ['a response that there is none of', { response: 'brickwall', approximation: 'bessel', passband: { edges: [1] } }],
    ['no passband', { response: 'lowpass', approximation: 'bessel' }],
    ['edges that are texts', { response: 'lowpass', approximation: 'bessel', passband: { edges: ['1k'] } }],
    [
      'a field of another program',
      { response: 'lowpass', approximation: 'bessel', passband: { edges: [1] }, theme: 1 },
    ],
    [
      'a stop band that is a number',
      { response: 'lowpass', approximation: 'x', passband: { edges: [1] }, stopband: 40 },
    ],
    ['a shape’s value of another type', { response: 'notch', shape: { frequency: '50' } }],
    ['a shape’s value that there is none of', { response: 'notch', shape: { colour: 1 } }],
  ])('that is %s is none', (_, draft) => {
    expect(readDraft(draft)).toBeNull()
  })
})
