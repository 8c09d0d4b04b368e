"""Series that the tests of trends are given."""

from datetime import date, timedelta

from grimcoil.core.amount import Amount
from grimcoil.core.trend.fit import TrendPoint

START = date(2018, 1, 1)


def points(values, every=180):
    out = []
    for i, value in enumerate(values):
        amount = value if isinstance(value, Amount) else Amount.exact(value)
        out.append(TrendPoint(START + timedelta(days=i * every), amount))
    return out
