"""Times a compiled general-purpose numeric and tabular library on the work of the benchmark.

Prints JSON: {name: seconds}. Run with one thread; what is not installed is left out.
"""
import io
import json
import sys
import time

found = {}


def median(times):
    return sorted(times)[len(times) // 2]


def timed(work, times=3):
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begun)
    return median(taken)


try:
    import numpy as np

    def newton(x, y):
        """Maximum likelihood by Newton's method, stopped as ours is."""
        n, p = x.shape
        b = np.zeros(p)
        before = np.inf
        while True:
            eta = x @ b
            e = np.exp(-np.abs(eta))
            risk = np.where(eta >= 0, 1 / (1 + e), e / (1 + e))
            deviance = 2 * np.sum(np.log1p(e) + np.where((eta > 0) != (y > 0), np.abs(eta), 0))
            if abs(before - deviance) <= 1e-13 * (abs(deviance) + 0.1):
                return b
            before = deviance
            w = risk * (1 - risk)
            b = b + np.linalg.solve((x * w[:, None]).T @ x, x.T @ (y - risk))

    rng = np.random.default_rng(1)
    x = np.column_stack([np.ones(100_000), rng.normal(size=(100_000, 30))])
    y = (rng.random(100_000) < 1 / (1 + np.exp(2 - x[:, 1:6].sum(axis=1) / 2))).astype(float)
    newton(x, y)
    found["logistic regression, 100,000 patients x 30 inputs"] = timed(lambda: newton(x, y), 5)
except ImportError:
    print("numpy is not installed", file=sys.stderr)

try:
    import numpy as np
    import pandas as pd

    rng = np.random.default_rng(2)
    frame = pd.DataFrame(np.round(rng.normal(100, 15, size=(100_000, 40)), 1))
    text = frame.to_csv(index=False)
    found["file sent and understood, 100,000 x 40"] = timed(lambda: pd.read_csv(io.StringIO(text)))
    wide = pd.DataFrame(np.round(rng.normal(100, 15, size=(225_000, 20)), 1))
    found["columns graded and described, 225,000 patients x 20"] = timed(lambda: wide.describe())
    found["map of associations by rank, 225,000 patients x 20 graded columns"] = timed(
        lambda: wide.corr(method="spearman"), 1
    )
except ImportError:
    print("pandas is not installed", file=sys.stderr)

print(json.dumps(found))
