"""The same computation as the bench of scores, in NumPy: scores.py HOW-MANY-IDEAS"""

import sys
import time

import numpy as np

count, draws, top = int(sys.argv[1]), 10_000, 10
n = np.arange(count)
reach = 500.0 + n * 7_919 % 1_000
impact = 0.5 + n * 104_729 % 100 / 50.0
effort = 2.0 + n * 1_299_709 % 100 / 10.0
half = np.full(count, 0.5)
RANGES = [
    (reach * 0.5, reach, reach * 2.5, False),
    (impact * 0.5, impact, impact * 1.5, False),
    (half - 0.3, half, half + 0.3, False),
    (effort * 0.7, effort, effort * 2.0, True),
]
by = n % 3


def quantile(low, likely, high, u):
    width, left = high - low, likely - low
    return np.where(u * width < left, low + np.sqrt(u * width * left), high - np.sqrt((1 - u) * width * (high - likely)))


def drawn(random, shape):
    """Scores, idea by idea; ranges of one estimator follow the same luck in half of the draws."""
    luck = random.random((3, draws))[by]
    columns = []
    for low, likely, high, less in RANGES:
        own = np.broadcast_to(random.random(shape), (count, draws))
        u = np.where(random.random(shape) < 0.5, 1 - luck if less else luck, own)
        columns.append(quantile(low[:, None], likely[:, None], high[:, None], u))
    return columns[0] * columns[1] * columns[2] / columns[3]


def once():
    random = np.random.default_rng(7)
    began = time.perf_counter()
    # The spread of each idea, from draws of the fields that are the same for all.
    spread = np.quantile(drawn(random, (1, draws)), [0.1, 0.25, 0.5, 0.75, 0.9], axis=1)
    scores = drawn(random, (count, draws)).astype(np.float32)
    mean = scores.mean(axis=1)
    last = -np.partition(-scores, top - 1, axis=0)[top - 1]
    chance = (scores >= last).mean(axis=1)
    placed = time.perf_counter()
    above = np.empty((count, count))
    for row in range(count):
        above[row] = (scores[row] > scores).mean(axis=1)
    paired = time.perf_counter()
    order = np.argsort(-mean)
    last_in, first_out = mean[order[top - 1]], mean[order[top]]
    places = (np.arange(24) + 0.5) / 24
    asked = 0
    for idea in range(count):
        others = random.random((4, 512))
        base = [quantile(r[0][idea], r[1][idea], r[2][idea], others[k]) for k, r in enumerate(RANGES)]
        for field, (low, likely, high, _) in enumerate(RANGES):
            at = quantile(low[idea], likely[idea], high[idea], places)[:, None]
            x = [at if k == field else base[k] for k in range(4)]
            told = (x[0] * x[1] * x[2] / x[3]).mean(axis=1)
            told += mean[idea] - told.mean()
            inside = mean[idea] >= last_in
            gain = first_out - told if inside else told - last_in
            asked += bool((gain > 0).any())
    ended = time.perf_counter()
    return placed - began, paired - placed, ended - paired, ended - began, asked, spread.shape, chance.shape


best = min((once() for _ in range(3)), key=lambda one: one[3])
print(f"ranges, medians, chances of the top {best[0] * 1e3:.0f} ms, all pairs {best[1] * 1e3:.0f} ms, what to ask ({best[4]}) {best[2] * 1e3:.0f} ms")
print(f"in all {best[3] * 1e3:.0f} ms")
