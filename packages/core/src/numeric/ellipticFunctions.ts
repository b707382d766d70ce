/*
 * Elliptic integrals and functions, each with parameter m = k² and complement mc = 1 − m given separately, so that
 * neither loses digits near its end. Source: M. Abramowitz, I. A. Stegun, "Handbook of Mathematical Functions", 1964,
 * ch. 16 and 17; B. C. Carlson, Numerical Algorithms 10, 1995, 13–26, for the incomplete integral.
 */

/** K(m), the complete integral of the first kind, from the complement. */
export function completeIntegral(mc: number): number {
  let a = 1
  let b = Math.sqrt(mc)
  while (Math.abs(a - b) > 1e-8 * a) [a, b] = [(a + b) / 2, Math.sqrt(a * b)]
  return Math.PI / (a + b)
}

/** F(φ|m), 0 ≤ φ ≤ π/2, from the tangent of φ. */
export function incompleteIntegral(tangent: number, mc: number): number {
  const size = Math.hypot(1, tangent)
  const [sine, cosine] = [tangent / size, 1 / size]
  return sine * carlsonRF(cosine * cosine, cosine * cosine + mc * sine * sine, 1)
}

function carlsonRF(x0: number, y0: number, z0: number): number {
  let [x, y, z] = [x0, y0, z0]
  for (;;) {
    const mean = (x + y + z) / 3
    const [dx, dy] = [1 - x / mean, 1 - y / mean]
    const dz = -dx - dy
    if (Math.max(Math.abs(dx), Math.abs(dy), Math.abs(dz)) < 1e-3) {
      const e2 = dx * dy - dz * dz
      const e3 = dx * dy * dz
      const series =
        1 - e2 / 10 + e3 / 14 + (e2 * e2) / 24 - (3 * e2 * e3) / 44 - (5 * e2 ** 3) / 208 + (3 * e3 * e3) / 104
      return series / Math.sqrt(mean)
    }
    const lambda = Math.sqrt(x * y) + Math.sqrt(y * z) + Math.sqrt(z * x)
    ;[x, y, z] = [(x + lambda) / 4, (y + lambda) / 4, (z + lambda) / 4]
  }
}

/** Jacobi's sn, cn, dn at a real argument, by the descending sequence of arithmetic and geometric means. */
export function jacobi(u: number, m: number, mc: number): { sn: number; cn: number; dn: number } {
  const a = [1]
  const c = [Math.sqrt(m)]
  let b = Math.sqrt(mc)
  // The next mean would differ by the square of this.
  while (Math.abs(c.at(-1)!) > 1e-9 * a.at(-1)!) {
    const last = a.at(-1)!
    a.push((last + b) / 2)
    c.push((last - b) / 2)
    b = Math.sqrt(last * b)
  }
  let phi = 2 ** (a.length - 1) * a.at(-1)! * u
  for (let n = a.length - 1; n > 0; n--) phi = (phi + Math.asin((c[n] / a[n]) * Math.sin(phi))) / 2
  const [sn, cn] = [Math.sin(phi), Math.cos(phi)]
  return { sn, cn, dn: Math.sqrt(mc + m * cn * cn) }
}

/** The modulus k and its complement k′ of a nome 0 < q < 1. */
export function modulusOfNome(q: number): { k: number; kc: number } {
  // Beyond e^−π the series of the complementary nome converges faster.
  if (q > Math.exp(-Math.PI)) {
    const { k, kc } = modulusOfNome(Math.exp(Math.PI ** 2 / Math.log(q)))
    return { k: kc, kc: k }
  }
  let [two, three, four] = [1, 1, 1]
  for (let n = 1; n < 20; n++) {
    two += q ** (n * (n + 1))
    three += 2 * q ** (n * n)
    four += 2 * (-1) ** n * q ** (n * n)
  }
  return { k: 4 * Math.sqrt(q) * (two / three) ** 2, kc: (four / three) ** 2 }
}
