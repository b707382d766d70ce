/** 2²⁷ + 1: splits a double into halves whose products are exact. */
const SPLITTER = 134217729

/** What the last sum or product was rounded by: a typed array, so that no number has to be boxed. */
const rest = new Float64Array(2)

const parts = new Float64Array(5)

function twoSum(a: number, b: number): number {
  const s = a + b
  const v = s - a
  rest[0] = a - (s - v) + (b - v)
  return s
}

/** The same where |a| ≥ |b|. */
function quickTwoSum(a: number, b: number): number {
  const s = a + b
  rest[0] = b - (s - a)
  return s
}

function twoProduct(a: number, b: number): number {
  const p = a * b
  const t = SPLITTER * a
  const ah = t - (t - a)
  const al = a - ah
  const u = SPLITTER * b
  const bh = u - (u - b)
  const bl = b - bh
  rest[0] = ah * bh - p + ah * bl + al * bh + al * bl
  return p
}

/** a + b + c to three doubles: the first returned, the others in `rest`. */
function threeSum(a: number, b: number, c: number): number {
  const t1 = twoSum(a, b)
  const t2 = rest[0]
  const first = twoSum(c, t1)
  const t3 = rest[0]
  const second = twoSum(t2, t3)
  rest[1] = rest[0]
  rest[0] = second
  return first
}

/**
 * A number as the unevaluated sum of four doubles, some 62 decimal digits. Without over- and underflow as long as sizes stay
 * within 1e±230.
 *
 * Source: Y. Hida, X. S. Li, D. H. Bailey, "Algorithms for quad-double precision floating point arithmetic", ARITH-15,
 * 2001 (from memory).
 */
export class QuadDouble {
  private constructor(
    private readonly a: number,
    private readonly b: number,
    private readonly c: number,
    private readonly d: number,
  ) {}

  static of(value: number | QuadDouble): QuadDouble {
    return typeof value === 'number' ? new QuadDouble(value, 0, 0, 0) : value
  }

  /** A whole number from its decimal digits. */
  static ofDigits(digits: string): QuadDouble {
    let sum = QuadDouble.of(0)
    for (let at = 0; at < digits.length; at += CHUNK) {
      const chunk = digits.slice(at, at + CHUNK)
      sum = sum.mul(10 ** chunk.length).add(Number(chunk))
    }
    return sum
  }

  /** Five doubles, each at most a rounding of the one before, as four that do not overlap. */
  private static normal(c0: number, c1: number, c2: number, c3: number, c4: number): QuadDouble {
    let s = quickTwoSum(c3, c4)
    parts[4] = rest[0]
    s = quickTwoSum(c2, s)
    parts[3] = rest[0]
    s = quickTwoSum(c1, s)
    parts[2] = rest[0]
    parts[0] = quickTwoSum(c0, s)
    parts[1] = rest[0]
    // What follows moves up wherever something before it has become nothing.
    let at = 0
    for (let k = 1; k < 5; k++) {
      const next = parts[k]
      parts[k] = 0
      parts[at] = quickTwoSum(parts[at], next)
      if (rest[0] !== 0 && at < 3) parts[++at] = rest[0]
    }
    return new QuadDouble(parts[0], parts[1], parts[2], parts[3])
  }

  add(other: QuadDouble | number): QuadDouble {
    const y = QuadDouble.of(other)
    const s0 = twoSum(this.a, y.a)
    const t0 = rest[0]
    let s1 = twoSum(this.b, y.b)
    const t1 = rest[0]
    let s2 = twoSum(this.c, y.c)
    const t2 = rest[0]
    let s3 = twoSum(this.d, y.d)
    const t3 = rest[0]
    s1 = twoSum(s1, t0)
    s2 = threeSum(s2, rest[0], t1)
    const u0 = rest[0]
    const u1 = rest[1]
    s3 = threeSum(s3, u0, t2)
    return QuadDouble.normal(s0, s1, s2, s3, rest[0] + u1 + t3)
  }

  sub(other: QuadDouble | number): QuadDouble {
    return this.add(typeof other === 'number' ? -other : other.neg())
  }

  mul(other: QuadDouble | number): QuadDouble {
    const y = QuadDouble.of(other)
    const p0 = twoProduct(this.a, y.a)
    const q0 = rest[0]
    const p1 = twoProduct(this.a, y.b)
    const q1 = rest[0]
    const p2 = twoProduct(this.b, y.a)
    const q2 = rest[0]
    const p3 = twoProduct(this.a, y.c)
    const q3 = rest[0]
    const p4 = twoProduct(this.b, y.b)
    const q4 = rest[0]
    const p5 = twoProduct(this.c, y.a)
    const q5 = rest[0]
    const r1 = threeSum(p1, p2, q0)
    const e0 = rest[0]
    const e1 = rest[1]
    const m0 = threeSum(e0, q1, q2)
    const m1 = rest[0]
    const m2 = rest[1]
    const n0 = threeSum(p3, p4, p5)
    const n1 = rest[0]
    const n2 = rest[1]
    const s0 = twoSum(m0, n0)
    const t0 = rest[0]
    const s1 = twoSum(m1, n1)
    const t1 = rest[0]
    const s1b = twoSum(s1, t0)
    const s2 = m2 + n2 + (rest[0] + t1)
    const last = this.a * y.d + this.b * y.c + this.c * y.b + this.d * y.a + e1 + q3 + q4 + q5
    return QuadDouble.normal(p0, r1, s0, s1b + last, s2)
  }

  div(other: QuadDouble | number): QuadDouble {
    const y = QuadDouble.of(other)
    const q0 = this.a / y.a
    let left = this.sub(y.mul(q0))
    const q1 = left.a / y.a
    left = left.sub(y.mul(q1))
    const q2 = left.a / y.a
    left = left.sub(y.mul(q2))
    const q3 = left.a / y.a
    left = left.sub(y.mul(q3))
    return QuadDouble.normal(q0, q1, q2, q3, left.a / y.a)
  }

  sqrt(): QuadDouble {
    if (this.a === 0) return this
    // Newton's steps from the double's root: each doubles its digits.
    let root = QuadDouble.of(Math.sqrt(this.a))
    for (let k = 0; k < 3; k++) root = root.add(this.sub(root.mul(root)).div(root.mul(2)))
    return root
  }

  neg(): QuadDouble {
    return new QuadDouble(-this.a, -this.b, -this.c, -this.d)
  }

  abs(): QuadDouble {
    return this.a < 0 ? this.neg() : this
  }

  isZero(): boolean {
    return this.a === 0
  }

  lt(other: QuadDouble | number): boolean {
    return this.sub(other).a < 0
  }

  gt(other: QuadDouble | number): boolean {
    return this.sub(other).a > 0
  }

  toNumber(): number {
    return this.a
  }
}

/** Decimal digits that a double surely holds. */
const CHUNK = 15
