"""Reference values for core/statistics, from SciPy and mpmath instead of Vetch's own code.

Run with Debian's python3-scipy and python3-mpmath: /usr/bin/python3 make_reference.py > reference.json
"""
import json

import mpmath as mp
import numpy as np
from scipy import stats
from scipy.special import gammaln

mp.mp.dps = 30

CONVERSIONS = [
    (1000, 50, 1000, 65), (10000, 500, 10000, 520), (200, 0, 210, 3), (50, 50, 60, 55), (1, 0, 1, 1),
    (1_000_000, 10_000, 1_000_000, 10_300), (100, 5, 100_000, 6000), (12, 3, 9, 4), (1_000_000_000, 1_000, 1_000_000_000, 1_090),
]
MEANS = [
    (1000, 10.0, 625.0, 1000, 10.9, 676.0), (40, -3.0, 4.0, 55, -2.2, 9.0), (20000, 1.5, 900.0, 30000, 1.55, 1024.0),
    (2, 1.0, 0.5, 3, 5.0, 0.25), (500, 1e9, 1.0, 500, 1e9 + 0.1, 1.0),
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
            p = integral(lambda x: a.pdf(x) * b.cdf(np.minimum(1, mid * x)))
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
    planned_v = (v0 * n0 + v1 * n1) / (PLANNED / 2)
    seq = sequential(p1 - p0, v, planned_v) if v > 0 else (None, 1)
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


print(json.dumps({
    "alpha": ALPHA, "plannedVisitors": PLANNED,
    "conversions": [conversion(*c) for c in CONVERSIONS],
    "means": [mean(*m) for m in MEANS],
    "allocations": [allocation([10021, 9979], [1, 1]), allocation([5300, 4700], [1, 1]), allocation([800, 100, 120], [8, 1, 1]), allocation([3, 9], [1, 1])],
    "lambertWLower": [[float(x), float(mp.lambertw(mp.mpf(float(x)), -1).real)] for x in (-0.3678, -0.3, -0.1, -1e-3, -1e-8, -1e-200)],
}, indent=1))
