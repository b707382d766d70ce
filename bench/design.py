"""Times of a general-purpose library for poles and zeros of orders 1 … 12, printed as JSON: seconds, least of several rounds."""
import json
import time

from scipy import signal


def least(rounds, work):
    best = float('inf')
    for _ in range(rounds):
        began = time.perf_counter()
        for order in range(1, 13):
            work(order)
        best = min(best, time.perf_counter() - began)
    return best


w = 2 * 3.141592653589793 * 20e3
print(json.dumps({
    'butterworth': least(20, lambda n: signal.butter(n, w, analog=True, output='zpk')),
    'chebyshev': least(20, lambda n: signal.cheby1(n, 0.5, w, analog=True, output='zpk')),
    'inverse-chebyshev': least(20, lambda n: signal.cheby2(n, 40, w, analog=True, output='zpk')),
    'elliptic': least(20, lambda n: signal.ellip(n, 0.5, 40, w, analog=True, output='zpk')),
    'bessel': least(20, lambda n: signal.bessel(n, w, analog=True, output='zpk', norm='mag')),
}))
