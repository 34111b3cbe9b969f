"""Times compiled general-purpose libraries on the work of the benchmark.

Prints JSON: {name: seconds}. On one thread unless a name says two; what is not installed is left out.
"""
import json
import os
import subprocess
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

    def multinomial(x, codes, levels):
        """Baseline-category logits by Newton's method, stopped as ours is."""
        n, p = x.shape
        k = levels - 1
        own = np.eye(levels)[codes]
        b = np.zeros((k, p))
        before = np.inf
        while True:
            eta = np.column_stack([np.zeros(n), x @ b.T])
            eta -= eta.max(axis=1, keepdims=True)
            shares = np.exp(eta)
            shares /= shares.sum(axis=1, keepdims=True)
            deviance = -2 * np.sum(np.log(shares[np.arange(n), codes]))
            if abs(before - deviance) <= 1e-13 * (abs(deviance) + 0.1):
                return b
            before = deviance
            q = shares[:, 1:]
            score = ((own[:, 1:] - q).T @ x).ravel()
            information = np.empty((k * p, k * p))
            for c in range(k):
                for d in range(c + 1):
                    w = q[:, c] * ((c == d) - q[:, d])
                    block = (x * w[:, None]).T @ x
                    information[c * p : (c + 1) * p, d * p : (d + 1) * p] = block
                    information[d * p : (d + 1) * p, c * p : (c + 1) * p] = block
            b = b + np.linalg.solve(information, score).reshape(k, p)

    x20 = np.column_stack([np.ones(50_000), rng.normal(size=(50_000, 20))])
    signal = 2 + 0.3 * x20[:, 1:9].sum(axis=1) + rng.normal(size=50_000)
    codes = np.clip(np.floor(signal), 0, 4).astype(int)
    found["multinomial logistic regression of 5 levels, 50,000 patients x 20 inputs"] = timed(
        lambda: multinomial(x20, codes, 5), 3
    )
    number = x[:, 1:9].sum(axis=1) + rng.normal(size=100_000)
    found["linear regression, 100,000 patients x 30 inputs"] = timed(
        lambda: np.linalg.qr(np.column_stack([x, number]), mode="r"), 3
    )

    wide = np.round(rng.normal(100, 15, size=(225_000, 20)), 1)

    def describe():
        np.quantile(wide, [0, 0.25, 0.5, 0.75, 1], axis=0)
        wide.mean(axis=0)
        wide.std(axis=0, ddof=1)

    def rank_correlations():
        ranks = np.empty_like(wide)
        for j in range(wide.shape[1]):
            values, places, counts = np.unique(
                wide[:, j], return_inverse=True, return_counts=True
            )
            ends = np.cumsum(counts)
            ranks[:, j] = (ends - (counts - 1) / 2)[places]
        np.corrcoef(ranks, rowvar=False)

    found["columns graded and described, 225,000 patients x 20"] = timed(describe)
    found["map of associations by rank, 225,000 patients x 20 graded columns"] = timed(
        rank_correlations
    )
except ImportError:
    print("numpy is not installed", file=sys.stderr)

try:
    # A column store, reading the same file with its kinds found out.
    import duckdb

    file = os.environ.get("BENCH_FILE", "")
    if os.path.exists(file):
        found["file sent and understood, 100,000 x 40"] = timed(
            lambda: duckdb.sql(f"from read_csv('{file}')").fetchnumpy()
        )
except ImportError:
    print("duckdb is not installed", file=sys.stderr)

try:
    # Families: the fastest way that a matrix library and a tree of neighbours give.
    import numpy as np
    from scipy.spatial import cKDTree

    def made(count, inputs):
        rng = np.random.default_rng(1)
        x = rng.normal(size=(count, inputs))
        linear = x[:, :12] @ (0.5 - 0.04 * np.arange(min(12, inputs)))
        return x, (rng.random(count) < 1 / (1 + np.exp(2 - linear))).astype(int)

    x, y = made(300_000, 20)

    def bayes():
        logs = np.empty((len(x), 2))
        for k in (0, 1):
            own = x[y == k]
            mean, variance = own.mean(axis=0), own.var(axis=0, ddof=1)
            constant = np.log(len(own) / len(x)) - 0.5 * np.log(2 * np.pi * variance).sum()
            logs[:, k] = constant - 0.5 * ((x - mean) ** 2 / variance).sum(axis=1)
        return 1 / (1 + np.exp(logs[:, 0] - logs[:, 1]))

    found["naive Bayes with normal curves fitted and predicted, 300,000 patients x 20"] = timed(
        bayes
    )
    x1, y1 = made(100_000, 20)

    def discriminants():
        means = [x1[y1 == k].mean(axis=0) for k in (0, 1)]
        within = sum((x1[y1 == k] - means[k]).T @ (x1[y1 == k] - means[k]) for k in (0, 1))
        weights = np.linalg.solve(within / (len(x1) - 2), means[1] - means[0])
        return 1 / (1 + np.exp(-(x1 - (means[0] + means[1]) / 2) @ weights))

    found["linear discriminants fitted and predicted, 100,000 patients x 20"] = timed(
        discriminants
    )
    patients, others = made(50_000, 20)[0], made(10_000, 20)[0] + 0.1

    def by_products():
        squares = (patients**2).sum(axis=1)
        for block in np.array_split(others, 20):
            distances = squares - 2 * block @ patients.T
            np.argpartition(distances, 15, axis=1)

    # In twenty directions a tree is no help: whichever of both is faster.
    found["nearest patients: 10,000 among 50,000 x 20, fifteen each"] = min(
        timed(by_products), timed(lambda: cKDTree(patients).query(others, k=15), 1)
    )
except ImportError:
    print("scipy is not installed", file=sys.stderr)

# Support vectors and an additive model, as libraries behind a language of statistics have them.
in_language = """
made <- function(count, inputs) {
  set.seed(1)
  x <- matrix(rnorm(count * inputs), count)
  some <- min(12, inputs)
  linear <- x[, 1:some] %*% (0.5 - 0.04 * (seq_len(some) - 1))
  list(x = x, y = as.integer(runif(count) < 1 / (1 + exp(2 - linear))))
}
took <- function(name, work) cat(name, "\t", system.time(work())[["elapsed"]], "\n", sep = "")
if (requireNamespace("e1071", quietly = TRUE)) {
  m <- made(5000, 20)
  cost <- nrow(m$x) / (2 * table(m$y))
  learn <- function(rows) e1071::svm(
    m$x[rows, ], factor(m$y[rows]), scale = FALSE, gamma = 1 / (2 * 6.2^2), class.weights = cost
  )
  took("support vectors, radial, with risks by three inner folds, 5,000 patients x 20", function() {
    predict(learn(1:5000), m$x)
    for (fold in 0:2) {
      own <- which(1:5000 %% 3 == fold)
      predict(learn(setdiff(1:5000, own)), m$x[own, ])
    }
  })
}
if (requireNamespace("mgcv", quietly = TRUE)) {
  library(mgcv)
  m <- made(20000, 10)
  frame <- data.frame(y = m$y, m$x)
  terms <- paste0("s(X", 1:10, ", bs = 'bs', k = 12)", collapse = " + ")
  formula <- as.formula(paste("y ~", terms))
  took("additive model of ten curves, an event, 20,000 patients x 10", function()
    predict(bam(formula, binomial, frame, method = "fREML"), frame))
}
"""
try:
    run = subprocess.run(["Rscript", "-"], input=in_language, capture_output=True, text=True)
    for line in run.stdout.splitlines():
        if "\t" in line:
            name, seconds = line.split("\t")
            found[name] = float(seconds)
except FileNotFoundError:
    print("Rscript is not installed", file=sys.stderr)

try:
    # Boosting and forests on bins; what ours does on two threads at once, on two threads.
    import numpy as np
    import xgboost

    def patients(count, inputs):
        rng = np.random.default_rng(1)
        x = rng.normal(size=(count, inputs))
        x[:, 3::4] = rng.integers(0, 3, size=x[:, 3::4].shape)
        return x, (x[:, 0] + 2 * rng.normal(size=count) > 2).astype(int)

    def fitted(x, y, threads, rounds, **settings):
        matrix = xgboost.DMatrix(x, y, nthread=threads)
        return xgboost.train({"tree_method": "hist", "nthread": threads, **settings}, matrix, rounds)

    # How deep trees are, 0 for as deep as they will, under the library's own name for it.
    depth = "_".join(("max", "depth"))
    boosting = {"objective": "binary:logistic", "eta": 0.1}
    forest = {
        "objective": "reg:squarederror",
        "eta": 1,
        depth: 0,
        "reg_lambda": 0,
        "subsample": 0.632,
    }
    at_once = ", each of two threads at once"
    x, y = patients(300_000, 17)
    name = "boosted trees, 100 of depth 3, 300,000 patients x 17"
    for threads, also in ((1, ""), (2, at_once)):
        found[name + also] = timed(lambda: fitted(x, y, threads, 100, **{depth: 3}, **boosting))
    model = fitted(*patients(20_000, 17), 1, 100, **{depth: 6}, **boosting)
    x, y = patients(1_000_000, 17)
    name = "1,000,000 patients x 17 scored by 100 trees of depth 6"
    for threads, also in ((1, ""), (2, at_once)):
        model.set_param("nthread", threads)
        found[name + also] = timed(lambda: model.inplace_predict(x))
    x, y = patients(100_000, 20)
    settings = {**forest, "num_parallel_tree": 50, "min_child_weight": 5, "colsample_bynode": 0.2}
    name = "random forest, 50 trees, 100,000 patients x 20"
    for threads, also in ((1, ""), (2, at_once)):
        found[name + also] = timed(lambda: fitted(x, y, threads, 1, **settings), 1)
    x, y = patients(160, 13)

    def forests(threads):
        matrix = xgboost.DMatrix(x, y, nthread=threads)
        for k in range(96):
            own = {"num_parallel_tree": 10 + 71 * k // 96, "colsample_bynode": (1 + k % 6) / 13}
            settings = {"tree_method": "hist", "nthread": threads, **forest, **own}
            xgboost.train(settings, matrix, 1)

    # One in ten of them, ten times as long.
    name = "960 random forests of 10 to 80 trees on the same bins, 160 patients x 13"
    for threads, also in ((1, ""), (2, at_once)):
        found[name + also] = 10 * timed(lambda: forests(threads), 1)
    # The same fits as a search: of each fold, and of those who are not in it.
    x, y = patients(180, 13)

    def forest_search():
        for fold in range(3):
            out = np.arange(len(y)) % 3 == fold
            for k in range(32):
                own = {"num_parallel_tree": 80, "colsample_bynode": (2 + k % 2) / 13}
                own[depth] = (4, 30)[k % 4 // 2]
                model = fitted(x[~out], y[~out], 2, 1, **{**forest, **own})
                model.inplace_predict(x[out])

    found["search of 320 forest settings x 3 folds, 240 patients x 13"] = timed(forest_search, 3)
    x, y = patients(72_000, 17)

    def boosting_search():
        for fold in range(5):
            out = np.arange(len(y)) % 5 == fold
            for deep in (2, 3, 4):
                for rate in (0.05, 0.1, 0.3):
                    own = {**boosting, depth: deep, "eta": rate}
                    model = fitted(x[~out], y[~out], 2, 100, **own)
                    model.inplace_predict(x[out])

    name = "search of 3 x 3 boosting settings x 5 folds, 96,000 patients x 17"
    found[name] = timed(boosting_search, 1)
    print(f"compared with xgboost {xgboost.__version__}", file=sys.stderr)
except ImportError:
    print("xgboost is not installed", file=sys.stderr)

print(json.dumps(found))
