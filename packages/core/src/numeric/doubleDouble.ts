/** 2²⁷ + 1: splits a double into halves whose products are exact. */
const SPLITTER = 134217729

/**
 * A number as the unevaluated sum of two doubles, some 31 decimal digits. Without over- and underflow as long as sizes stay
 * within 1e±290.
 *
 * Source: T. J. Dekker, "A floating-point technique for extending the available precision", Numer. Math. 18, 1971,
 * 224–242; Y. Hida, X. S. Li, D. H. Bailey, "Algorithms for quad-double precision floating point arithmetic", ARITH-15,
 * 2001 (from memory).
 */
export class DoubleDouble {
  private constructor(
    private readonly hi: number,
    private readonly lo: number,
  ) {}

  static of(value: number | DoubleDouble): DoubleDouble {
    return typeof value === 'number' ? new DoubleDouble(value, 0) : value
  }

  add(other: DoubleDouble | number): DoubleDouble {
    const b = DoubleDouble.of(other)
    const [s, e] = [this.hi + b.hi, this.lo + b.lo]
    const v = s - this.hi
    const es = this.hi - (s - v) + (b.hi - v)
    const w = e - this.lo
    const ee = this.lo - (e - w) + (b.lo - w)
    const t = es + e
    const s1 = s + t
    const t1 = t - (s1 - s) + ee
    const hi = s1 + t1
    return new DoubleDouble(hi, t1 - (hi - s1))
  }

  sub(other: DoubleDouble | number): DoubleDouble {
    return this.add(typeof other === 'number' ? -other : other.neg())
  }

  mul(other: DoubleDouble | number): DoubleDouble {
    const b = DoubleDouble.of(other)
    const p = this.hi * b.hi
    const t = SPLITTER * this.hi
    const ah = t - (t - this.hi)
    const al = this.hi - ah
    const u = SPLITTER * b.hi
    const bh = u - (u - b.hi)
    const bl = b.hi - bh
    const e = ah * bh - p + ah * bl + al * bh + al * bl + (this.hi * b.lo + this.lo * b.hi)
    const hi = p + e
    return new DoubleDouble(hi, e - (hi - p))
  }

  div(other: DoubleDouble | number): DoubleDouble {
    const b = DoubleDouble.of(other)
    const q1 = this.hi / b.hi
    const r1 = this.sub(b.mul(q1))
    const q2 = r1.hi / b.hi
    const r2 = r1.sub(b.mul(q2))
    return new DoubleDouble(q1, 0).add(q2).add(r2.hi / b.hi)
  }

  sqrt(): DoubleDouble {
    if (this.hi === 0) return this
    // Newton's step from the double's root.
    const root = Math.sqrt(this.hi)
    const square = new DoubleDouble(root, 0).mul(root)
    return new DoubleDouble(root, 0).add(this.sub(square).hi / (2 * root))
  }

  neg(): DoubleDouble {
    return new DoubleDouble(-this.hi, -this.lo)
  }

  abs(): DoubleDouble {
    return this.hi < 0 ? this.neg() : this
  }

  isZero(): boolean {
    return this.hi === 0
  }

  lt(other: DoubleDouble | number): boolean {
    return this.sub(other).hi < 0
  }

  gt(other: DoubleDouble | number): boolean {
    return this.sub(other).hi > 0
  }

  toNumber(): number {
    return this.hi
  }
}
