import { expect, test } from 'vitest'
import { REQUIREMENT_KINDS, RequirementSchema } from './index.js'
import type { RequirementKind } from './RequirementKind.js'

test.each(REQUIREMENT_KINDS.map((k) => [k.kind, k as RequirementKind] as const))(
  'a new %s as a form begins it is one that can be asked; less of it, or more, is not',
  (kind, { at, target, start = 1 }) => {
    const asked = {
      kind,
      limit: start,
      ...(at === 'frequency' && { at: 1000 }),
      ...(at === 'band' && { from: 1000, to: 2000 }),
      ...(target !== undefined && { target: 0 }),
    }
    expect(RequirementSchema.safeParse(asked).success).toBe(true)
    for (const field of ['at', 'from', 'to', 'target'] as const) {
      const { [field]: had, ...without } = asked as Record<string, unknown>
      const other = had === undefined ? { ...asked, [field]: 1500 } : without
      const { error } = RequirementSchema.safeParse(other)
      expect(
        error?.issues.some((issue) => issue.path[0] === field),
        field,
      ).toBe(true)
    }
    expect(RequirementSchema.safeParse({ ...asked, limit: -1 }).error?.issues[0]?.path).toEqual(['limit'])
  },
)

test('what has a field at once is asked at nothing in particular: the field is its limit', () => {
  const usual = (REQUIREMENT_KINDS as readonly RequirementKind[]).filter((k) => k.usual)
  expect(usual.length).toBeGreaterThan(0)
  for (const { at, target } of usual) expect([at, target]).toEqual(['none', undefined])
})
