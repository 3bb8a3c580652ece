"""Reference values for core/statistics, from SciPy and mpmath instead of Vetch's own code.

Run with Debian's python3-scipy, python3-mpmath and python3-statsmodels:
/usr/bin/python3 make_reference.py > reference.json
"""
import json
import math

import mpmath as mp
import numpy as np
import statsmodels.api as sm
from scipy import integrate, stats
from scipy.special import gammaln
from statsmodels.stats.meta_analysis import combine_effects
from statsmodels.stats.multitest import multipletests
from statsmodels.stats.power import TTestIndPower

mp.mp.dps = 30

CONVERSIONS = [
    (1000, 50, 1000, 65), (10000, 500, 10000, 520), (200, 0, 210, 3), (50, 50, 60, 55), (1, 0, 1, 1),
    (1_000_000, 10_000, 1_000_000, 10_300), (100, 5, 100_000, 6000), (12, 3, 9, 4), (1_000_000_000, 1_000, 1_000_000_000, 1_090),
    (1_000_000_000, 1, 1_000_000_000, 3), (1_000_000_000, 300_000_000, 1_000_000_000, 300_040_000), (20, 20, 30, 29), (3, 0, 1_000_000, 500), (40, 0, 40, 0), (10, 0, 10, 10),
]
MEANS = [
    (1000, 10.0, 625.0, 1000, 10.9, 676.0), (40, -3.0, 4.0, 55, -2.2, 9.0), (20000, 1.5, 900.0, 30000, 1.55, 1024.0),
    (2, 1.0, 0.5, 3, 5.0, 0.25), (500, 1e9, 1.0, 500, 1e9 + 0.1, 1.0),
    (1_000_000_000, 3.2, 900.0, 1_000_000_000, 3.2001, 910.0), (50, 2.0, 1e12, 4000, 5.0, 4e11), (300, -40.0, 25.0, 280, -44.0, 36.0), (10, 1e-9, 1e-18, 12, 1.5e-9, 2e-18),
]
ALPHA = 0.05
PLANNED = 20_000


def fieller(m0, v0, m1, v1, q):
    if m0 == 0:
        return None
    g = q * q * v0 / (m0 * m0)
    if g >= 1:
        return None
    # Roots of (m1 - r m0)^2 = q^2 (v1 + r^2 v0), Fieller's own quadratic.
    roots = np.roots([m0 * m0 - q * q * v0, -2 * m0 * m1, m1 * m1 - q * q * v1])
    return sorted(float(r.real) - 1 for r in roots)


def sequential(delta, v, planned_v):
    info, planned = 1 / v, 1 / planned_v
    rho = planned / float(-mp.lambertw(-mp.mpf(ALPHA) ** 2 / mp.e, -1).real - 1)
    half = float(mp.sqrt((info + rho) * mp.log((info + rho) / (rho * ALPHA**2))) / info)
    log_lambda = 0.5 * np.log(rho / (info + rho)) + info**2 * delta**2 / (2 * (info + rho))
    return [delta - half, delta + half], float(min(1, np.exp(-log_lambda)))


def beta_posterior(n0, c0, n1, c1):
    a, b = stats.beta(1 + c0, 1 + n0 - c0), stats.beta(1 + c1, 1 + n1 - c1)
    def integral(f):
        lo = min(a.ppf(1e-15), b.ppf(1e-15)); hi = max(a.isf(1e-15), b.isf(1e-15))
        x, w = np.polynomial.legendre.leggauss(400)
        cuts = np.linspace(lo, hi, 61)
        total = 0.0
        for l, h in zip(cuts[:-1], cuts[1:]):
            p = (h - l) / 2 * x + (h + l) / 2
            total += (h - l) / 2 * float(np.sum(w * f(p)))
        return total
    better = integral(lambda x: b.pdf(x) * a.cdf(x))
    loss = integral(lambda x: b.cdf(x) * a.sf(x))
    loss_control = integral(lambda x: a.cdf(x) * b.sf(x))
    def quantile(q):
        lo, hi = 1e-6, 1e6
        for _ in range(120):
            mid = (lo * hi) ** 0.5
            # Over the posterior for which the other's argument stays below 1, so that nothing has a kink.
            p = integral(lambda x: a.pdf(x) * b.cdf(mid * x)) if mid <= 1 else integral(lambda x: b.pdf(x) * a.sf(x / mid))
            lo, hi = (mid, hi) if p < q else (lo, mid)
        return (lo * hi) ** 0.5 - 1
    small = max(n0, n1) <= 10_000
    return {"probabilityBetter": better, "expectedLoss": loss, "expectedLossOfControl": loss_control,
            "liftInterval": [quantile(ALPHA / 2), quantile(1 - ALPHA / 2)] if small else None}


def conversion(n0, c0, n1, c1):
    p0, p1 = c0 / n0, c1 / n1
    v0, v1 = p0 * (1 - p0) / n0, p1 * (1 - p1) / n1
    pooled = (c0 + c1) / (n0 + n1)
    error = (pooled * (1 - pooled) * (1 / n0 + 1 / n1)) ** 0.5
    z = stats.norm.isf(ALPHA / 2)
    v = v0 + v1
    if v == 0:
        return {"input": [n0, c0, n1, c1], "difference": p1 - p0, "standardError": 0.0, "interval": None, "lift": None,
                "pValue": float(2 * stats.norm.sf(abs(p1 - p0) / error)) if error else None, "sequentialInterval": None, "sequentialPValue": None,
                "posterior": beta_posterior(n0, c0, n1, c1)}
    planned_v = (v0 * n0 + v1 * n1) / (PLANNED / 2)
    seq = sequential(p1 - p0, v, planned_v)
    return {"input": [n0, c0, n1, c1], "difference": p1 - p0, "standardError": v**0.5,
            "interval": [p1 - p0 - z * v**0.5, p1 - p0 + z * v**0.5],
            "lift": fieller(p0, v0, p1, v1, z), "pValue": float(2 * stats.norm.sf(abs(p1 - p0) / error)) if error else 1.0,
            "sequentialInterval": seq[0], "sequentialPValue": seq[1], "posterior": beta_posterior(n0, c0, n1, c1)}


def mean(n0, m0, s0, n1, m1, s1):
    v0, v1 = s0 / n0, s1 / n1
    test = stats.ttest_ind_from_stats(m1, s1**0.5, n1, m0, s0**0.5, n0, equal_var=False)
    df = (v0 + v1) ** 2 / (v0**2 / (n0 - 1) + v1**2 / (n1 - 1))
    t = stats.t.isf(ALPHA / 2, df)
    se = (v0 + v1) ** 0.5
    d = stats.norm(m1 - m0, se)
    loss = float(mp.quad(lambda x: -x * mp.npdf(x, m1 - m0, se), [m1 - m0 - 40 * se, m1 - m0 - 8 * se, 0])) if m1 - m0 - 40 * se < 0 else 0.0
    return {"input": [n0, m0, s0, n1, m1, s1], "pValue": float(test.pvalue), "degreesOfFreedom": df,
            "interval": [m1 - m0 - t * se, m1 - m0 + t * se], "lift": fieller(m0, v0, m1, v1, t),
            "probabilityBetter": float(d.sf(0)), "expectedLoss": loss}


def allocation(counts, weights):
    share = np.array(weights) / sum(weights)
    expected = share * sum(counts)
    chi = stats.chisquare(counts, expected)
    prior = 100 * len(counts) * share
    log_bf = gammaln(prior.sum()) - gammaln(prior.sum() + sum(counts)) + float(np.sum(gammaln(prior + counts) - gammaln(prior) - np.array(counts) * np.log(share)))
    return {"counts": counts, "weights": weights, "chiSquare": float(chi.statistic), "pValue": float(chi.pvalue), "sequentialPValue": float(min(1, np.exp(-log_bf)))}


def raw_arms(seed, sizes):
    """Visitors with clicks, views, revenue and a covariate that explains a part of it."""
    random = np.random.default_rng(seed)
    arms = []
    for arm, size in enumerate(sizes):
        past = random.gamma(0.5, 30, size).round(2)
        views = 1 + random.poisson(3, size)
        clicks = random.binomial(views, 0.2 + 0.03 * arm)
        spend = np.where(random.random(size) < 0.3, 0.8 * past + random.lognormal(2.5 + 0.1 * arm, 1, size), 0).round(2)
        arms.append({"past": past, "views": views, "clicks": clicks, "revenue": spend, "bought": (spend > 0).astype(int)})
    return arms


def z_test(estimate, variance, df=None):
    error = variance**0.5
    quantile = stats.t.isf(ALPHA / 2, df) if df else stats.norm.isf(ALPHA / 2)
    p = 2 * (stats.t.sf(abs(estimate / error), df) if df else stats.norm.sf(abs(estimate / error)))
    return {"estimate": estimate, "standardError": error, "interval": [estimate - quantile * error, estimate + quantile * error], "pValue": p}


def ratio(arms):
    """The delta method written as the variance of the linearized value of each visitor."""
    def arm(a):
        r = a["clicks"].sum() / a["views"].sum()
        linear = (a["clicks"] - r * a["views"]) / a["views"].mean()
        return r, linear.var(ddof=1), linear
    (r0, v0, _), (r1, v1, _) = arm(arms[0]), arm(arms[1])
    n0, n1 = len(arms[0]["views"]), len(arms[1]["views"])
    return {"arms": [{"mean": r0, "variance": v0}, {"mean": r1, "variance": v1}], **z_test(r1 - r0, v0 / n0 + v1 / n1),
            "lift": fieller(r0, v0 / n0, r1, v1 / n1, stats.norm.isf(ALPHA / 2))}


def reduced(arms, values, welch):
    """CUPED on raw values: theta by least squares with an intercept for each arm."""
    y = np.concatenate([values(a) for a in arms])
    x = np.concatenate([a["past"] for a in arms])
    dummies = np.zeros((len(y), len(arms)))
    start = 0
    for k, a in enumerate(arms):
        dummies[start:start + len(a["past"]), k] = 1
        start += len(a["past"])
    theta = sm.OLS(y, np.column_stack([dummies, x])).fit().params[-1]
    adjusted = [values(a) - theta * (a["past"] - x.mean()) for a in arms]
    variance = [a.var(ddof=1) / len(a) for a in adjusted]
    before = sum(values(a).var(ddof=1) / len(a["past"]) for a in arms[:2])
    df = None
    if welch:
        n = [len(a) for a in adjusted]
        df = (variance[0] + variance[1]) ** 2 / (variance[0] ** 2 / (n[0] - 1) + variance[1] ** 2 / (n[1] - 1))
    return {"theta": theta, "shareRemoved": 1 - (variance[0] + variance[1]) / before, **z_test(adjusted[1].mean() - adjusted[0].mean(), variance[0] + variance[1], df)}


def linearized(a):
    r = a["clicks"].sum() / a["views"].sum()
    return (a["clicks"] - r * a["views"]) / a["views"].mean() + r


def dense_boundaries(fractions, spent):
    """Boundaries by recursion on one dense, even grid of the score process: slow, plain and unlike Vetch's."""
    bounds, density, grid, before = [], None, None, 0.0
    for t, increment in zip(fractions, np.diff([0.0, *spent])):
        step = t - before
        if density is None:
            crossed = lambda b: 2 * stats.norm.sf(b)
        else:
            h = grid[1] - grid[0]
            crossed = lambda b: float(np.sum(density * (stats.norm.sf((b * t**0.5 - grid) / step**0.5) + stats.norm.cdf((-b * t**0.5 - grid) / step**0.5))) * h)
        low, high = 0.0, 15.0
        for _ in range(100):
            middle = (low + high) / 2
            low, high = (middle, high) if crossed(middle) > increment else (low, middle)
        bound = (low + high) / 2
        edge = bound * t**0.5
        # Midpoints of 6,000 equal cells within the bounds.
        fine = (np.arange(6000) + 0.5) / 6000 * 2 * edge - edge
        if density is None:
            density = stats.norm.pdf(fine, scale=t**0.5)
        else:
            h = grid[1] - grid[0]
            density = np.array([np.sum(density * np.exp(-((x - grid) ** 2) / (2 * step))) for x in fine]) * h / math.sqrt(2 * math.pi * step)
        grid, before = fine, t
        bounds.append(bound)
    return bounds


def spent(kind, fractions):
    if kind == "pocock":
        return [ALPHA * math.log(1 + (math.e - 1) * t) for t in fractions]
    return [2 * stats.norm.sf(stats.norm.isf(ALPHA / 2) / t**0.5) for t in fractions]


def best_of_normals(arms):
    def one(k):
        mean, deviation = arms[k]
        f = lambda x: stats.norm.pdf(x, mean, deviation) * np.prod([stats.norm.cdf(x, m, d) for j, (m, d) in enumerate(arms) if j != k])
        points = sorted({m + b * d for m, d in arms for b in (-4, -1, 0, 1, 4)})
        return integrate.quad(f, mean - 12 * deviation, mean + 12 * deviation, points=[p for p in points if abs(p - mean) < 12 * deviation], limit=2000, epsabs=1e-12)[0]
    return [one(k) for k in range(len(arms))]


def best_of_betas(arms):
    posteriors = [stats.beta(1 + c, 1 + n - c) for n, c in arms]
    low, high = min(p.ppf(1e-14) for p in posteriors), max(p.isf(1e-14) for p in posteriors)
    x, w = np.polynomial.legendre.leggauss(60)
    result = np.zeros(len(arms))
    for l, h in zip(*(lambda cuts: (cuts[:-1], cuts[1:]))(np.linspace(low, high, 400))):
        points = (h - l) / 2 * x + (h + l) / 2
        below = np.array([p.cdf(points) for p in posteriors])
        for k, p in enumerate(posteriors):
            result[k] += (h - l) / 2 * np.sum(w * p.pdf(points) * np.prod(np.delete(below, k, axis=0), axis=0))
    return result.tolist()


def factorial(cells):
    """Weighted least squares with sum contrasts on cells of three factors; the errors' scale is known."""
    rows, y, w = [], [], []
    for (a, b, c), n, mean, variance in cells:
        x = [-1, 1][a], [-1, 1][b], [[-1, -1], [1, 0], [0, 1]][c]
        rows.append([1, x[0], x[1], *x[2], x[0] * x[1], x[0] * x[2][0], x[0] * x[2][1], x[1] * x[2][0], x[1] * x[2][1]])
        y.append(mean)
        w.append(n / variance)
    fit = sm.WLS(y, np.array(rows), weights=w).fit(cov_type="fixed scale")
    return {"cells": [[list(levels), n, mean, variance] for levels, n, mean, variance in cells], "estimates": fit.params[1:].tolist(),
            "standardErrors": fit.bse[1:].tolist(), "pValues": fit.pvalues[1:].tolist(), "fitted": fit.fittedvalues.tolist()}


def trend(points):
    fit = sm.WLS([d for _, d, _ in points], sm.add_constant([float(x) for x, _, _ in points]), weights=[1 / e**2 for _, _, e in points]).fit(cov_type="fixed scale")
    return {"points": points, "slope": fit.params[1], "standardError": fit.bse[1], "pValue": fit.pvalues[1]}


def power_of_t(n0, n1, effect):
    return {"input": [n0, n1, effect], "power": float(TTestIndPower().power(effect, n0, ALPHA, ratio=n1 / n0))}


def lists(arms, *names):
    return [np.column_stack([a[name] for name in names]).tolist() for a in arms]


RAW = raw_arms(7, (160, 140, 90))
CELLS = [((a, b, c), 900 + 100 * a + 37 * b + 11 * c, 0.1 + 0.012 * a - 0.007 * b + 0.004 * c + 0.01 * a * (c == 2) + 0.002 * ((3 * a + 5 * b + 7 * c) % 4),
          0.09 + 0.01 * a + 0.003 * c) for a in range(2) for b in range(2) for c in range(3)]
EVEN, UNEVEN = [0.2, 0.4, 0.6, 0.8, 1.0], [0.1, 0.35, 0.4, 0.9, 1.0]
PVALUES = [0.001, 0.04, 0.03, 0.7, 0.012, 0.04, 0.2]
PAST = [[0.03, 0.0004], [-0.05, 0.0009], [0.11, 0.0016], [0.0, 0.0002], [0.06, 0.0009]]
NORMALS = [(10.0, 0.5), (10.2, 0.4), (9.9, 0.01), (10.6, 2.0)]
TEN = [(5000 + 300 * k, 250 + 11 * k + 17 * (k % 3)) for k in range(10)]
TREND = [[day, 0.02 - 0.001 * day + 0.002 * (day % 3), 0.004 + 0.0005 * day] for day in range(10)]

REFERENCE = {
    "alpha": ALPHA, "plannedVisitors": PLANNED,
    "conversions": [conversion(*c) for c in CONVERSIONS],
    "means": [mean(*m) for m in MEANS],
    "allocations": [allocation([10021, 9979], [1, 1]), allocation([5300, 4700], [1, 1]), allocation([800, 100, 120], [8, 1, 1]), allocation([3, 9], [1, 1])],
    "raw": {"ratio": lists(RAW, "clicks", "views"), "revenue": lists(RAW, "revenue", "past"), "bought": lists(RAW, "bought", "past"), "ratioWithPast": lists(RAW, "clicks", "views", "past")},
    "ratio": ratio(RAW),
    "reduced": {"revenue": reduced(RAW, lambda a: a["revenue"], True), "bought": reduced(RAW, lambda a: a["bought"], False), "ratioWithPast": reduced(RAW, linearized, False)},
    "winsorize": [{"quantile": q, "aboveZero": float(np.quantile(np.concatenate([a["revenue"][a["revenue"] > 0] for a in RAW]), q)), "all": float(np.quantile(np.concatenate([a["revenue"] for a in RAW]), q))} for q in (0.5, 0.9, 0.99, 1.0)],
    "boundaries": [{"spending": kind, "fractions": f, "alphaSpent": spent(kind, f), "z": dense_boundaries(f, spent(kind, f))} for kind in ("obrien-fleming", "pocock") for f in (EVEN, UNEVEN)],
    "powerOfT": [power_of_t(64, 64, 0.5), power_of_t(5, 5, 1.2), power_of_t(2000, 500, 0.1), power_of_t(40000, 40000, 0.02)],
    "adjusted": {"pValues": PVALUES, "holm": multipletests(PVALUES, method="holm")[1].tolist(), "benjaminiHochberg": multipletests(PVALUES, method="fdr_bh")[1].tolist()},
    "liftPrior": (lambda fit: {"past": PAST, "variance": float(fit.tau2), "mean": float(fit.mean_effect_re), "q": float(fit.q), "pValue": float(stats.chi2.sf(fit.q, len(PAST) - 1))})(combine_effects(*(np.array(PAST).T), method_re="dl")),
    "best": {"normals": {"arms": NORMALS, "probabilities": best_of_normals(NORMALS)}, "ten": {"arms": TEN, "probabilities": best_of_betas(TEN)}},
    "factorial": factorial(CELLS),
    "trend": trend(TREND),
    "lambertWLower": [[float(x), float(mp.lambertw(mp.mpf(float(x)), -1).real)] for x in (-0.3678, -0.3, -0.1, -1e-3, -1e-8, -1e-200)],
}
print("{\n" + ",\n".join(f"{json.dumps(key)}: {json.dumps(value)}" for key, value in REFERENCE.items()) + "\n}")
