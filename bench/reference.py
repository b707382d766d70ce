"""Times of general-purpose libraries for the same work, printed as JSON: seconds, the least of several rounds."""
import json
import time

import numpy as np
from scipy import signal
from scipy.integrate import solve_ivp
from scipy.sparse import csc_matrix
from scipy.sparse.linalg import splu

rng = np.random.default_rng(1)


def least(rounds, work):
    best = float('inf')
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - began)
    return best


def dense(n, points=1000):
    a = rng.standard_normal((points, n, n)) + 1j * rng.standard_normal((points, n, n))
    b = np.ones((points, n, 1), complex)
    return least(5, lambda: np.linalg.solve(a, b))


def sparse(sections, points=100):
    """A ladder's equations, factored and solved point by point."""
    n = 2 * sections + 3
    rows, cols, values = [], [], []
    for k in range(n):
        rows.append(k), cols.append(k), values.append(2 + 1j)
        for j in (k - 1, k + 1):
            if 0 <= j < n:
                rows.append(k), cols.append(j), values.append(-1)
    matrix = csc_matrix((np.array(values, complex), (rows, cols)))
    b = np.ones(n, complex)

    def work():
        for _ in range(points):
            splu(matrix).solve(b)

    return least(3, work) * 1000 / points


def butterworth(order):
    z, p, k = signal.butter(order, 1, analog=True, output='zpk')
    return signal.zpk2ss(z, p, k)


def stepping(order, points=5001):
    system = butterworth(order)
    t = np.linspace(0, 40, points)
    u = np.ones(points)
    a, b, c, d = system
    exact = signal.lsim(system, u, t)[1]
    lsim = least(3, lambda: signal.lsim(system, u, t))
    result = {}

    def radau():
        result['run'] = solve_ivp(lambda _, x: a @ x + b[:, 0], (0, 40), np.zeros(order), method='Radau', rtol=1e-6, atol=1e-9, t_eval=t, jac=a)

    seconds = least(2, radau)
    error = float(np.max(np.abs((c @ result['run'].y)[0] - exact)))
    return {'lsim': lsim, 'radau': seconds, 'radauError': error}


def two_stage():
    """The two-stage MOS amplifier of the benchmark, as ordinary differential equations with capacitors at every net."""
    n = dict(vto=0.7, kp=110e-6, gamma=0.4, phi=0.7, lam=0.04)
    p = dict(vto=0.7, kp=50e-6, gamma=0.57, phi=0.8, lam=0.05)

    def mos(vgs, vds, vbs, m, wl):
        sign = 1
        if vds < 0:
            vgs, vds, vbs, sign = vgs - vds, -vds, vbs - vds, -1
        v = vgs - m['vto'] - m['gamma'] * (np.sqrt(max(m['phi'] - vbs, 1e-12)) - np.sqrt(m['phi']))
        if v <= 0:
            return 0.0
        beta = m['kp'] * wl * (1 + m['lam'] * vds)
        return sign * beta * (v * v / 2 if vds >= v else vds * (v - vds / 2))

    c = np.diag([1e-13, 1e-13, 1e-13, 1e-13 + 2e-12, 5e-12 + 2e-12])
    c[3, 4] = c[4, 3] = -2e-12
    inverse = np.linalg.inv(c)

    def rate(t, y):
        nb, tail, d1, d2, out = y
        vin = 0.5e-3 * np.sin(2 * np.pi * 1e5 * t)
        i1 = mos(-tail, d1 - tail, -2.5 - tail, n, 10)
        i2 = mos(vin - tail, d2 - tail, -2.5 - tail, n, 10)
        i = np.array([
            mos(nb + 2.5, nb + 2.5, 0, n, 15) - 30e-6,
            mos(nb + 2.5, tail + 2.5, 0, n, 15) - i1 - i2,
            i1 - mos(2.5 - d1, 2.5 - d1, 0, p, 20),
            i2 - mos(2.5 - d1, 2.5 - d2, 0, p, 20),
            mos(nb + 2.5, out + 2.5, 0, n, 30) - mos(2.5 - d2, 2.5 - out, 0, p, 80),
        ])
        return -inverse @ i

    start = [-1.612604362319833, -1.1029234523159321, 1.6287874796422201, 1.6287874796422201, 0.42260632671298226]
    t = np.linspace(0, 1e-4, 201)
    fine = solve_ivp(rate, (0, 1e-4), start, method='BDF', rtol=1e-10, atol=1e-12, t_eval=t)
    result = {}

    def run():
        result['run'] = solve_ivp(rate, (0, 1e-4), start, method='BDF', rtol=1e-5, atol=1e-7, t_eval=t)

    seconds = least(1, run)
    return {'bdf': seconds, 'bdfError': float(np.max(np.abs(result['run'].y[4] - fine.y[4]))), 'out': fine.y[4].tolist()}


print(json.dumps({
    'dense11': dense(11),
    'dense22': dense(22),
    'sparse': sparse(98),
    'stepping7': stepping(7),
    'stepping8': stepping(8),
    'twoStage': two_stage(),
}))
