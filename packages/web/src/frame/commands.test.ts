import { describe, expect, test } from 'vitest'
import { stages } from '../stages'
import { keyOf } from './commands'

const press = (key: string, held: Partial<Record<'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey', boolean>> = {}) =>
  keyOf({ key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...held } as KeyboardEvent)

describe('the name of a key press', () => {
  test.each([
    ['k', { ctrlKey: true }, 'Ctrl+K'],
    ['k', { metaKey: true }, 'Ctrl+K'],
    ['Z', { ctrlKey: true, shiftKey: true }, 'Ctrl+Shift+Z'],
    // Shift is in the character already.
    ['?', { shiftKey: true }, '?'],
    ['1', {}, '1'],
    ['1', { altKey: true }, 'Alt+1'],
    ['ArrowLeft', { ctrlKey: true }, 'Ctrl+ArrowLeft'],
  ])('%s with %j is %j', (key, held, name) => {
    expect(press(key, held)).toBe(name)
  })
})

test('no two stages have one key', () => {
  const keys = stages.map((s) => s.key)
  expect(new Set(keys).size).toBe(keys.length)
})
