"""A year of tests: read, judged and decided here, beside a spreadsheet that works out the figures alone.

The spreadsheet (LibreOffice Calc, headless) opens one workbook with a row a test, recalculates unbalance, R at 40 °C,
index and means, and writes the values out; its own start, timed on an empty book, is taken off.
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from random import Random

from openpyxl import Workbook

from grimcoil.core.assessment import assess
from grimcoil.exchange.jobs import read_job

FORMULAS = (
    "=AVERAGE(B{0}:D{0})", "=100*MAX(ABS(B{0}-H{0}),ABS(C{0}-H{0}),ABS(D{0}-H{0}))/H{0}", "=F{0}*0.5^((40-E{0})/10)",
    "=G{0}/F{0}", '=IF(AND(I{0}<=2,J{0}>=5),"sound","look")',
)  # fmt: skip


def documents(count: int) -> list[tuple[float, float, float, float, float, float]]:
    """Three ohms, °C, MΩ after one and ten minutes."""
    dice = Random(7)
    return [
        (
            *(dice.gauss(0.5, 0.004) for _ in range(3)),
            dice.uniform(8, 35),
            dice.uniform(20, 900),
            dice.uniform(40, 2500),
        )
        for _ in range(count)
    ]


def job(row: tuple[float, ...]) -> str:
    """The same as a job document."""
    pairs = {pair: f"{ohm:.5f}" for pair, ohm in zip(("1-2", "2-3", "3-1"), row, strict=False)}
    series = [{"t_s": 60, "reading": f"{row[4]:.1f}M"}, {"t_s": 600, "reading": f"{row[5]:.1f}M"}]
    motor = {"tag": "X-1", "rated_voltage_v": [460], "full_load_current_a": [21], "lead_scheme": "three-lead"}
    hold = {"kind": "insulation", "from": ["1", "2", "3"], "to": ["frame"], "series": series, "test_voltage_v": 500}
    tests = [{"kind": "winding_resistance", "readings": pairs}, hold]
    air = {"winding_temperature_c": row[3], "ambient_temperature_c": row[3], "relative_humidity_percent": 50}
    return json.dumps({"format": "grimcoil-job/1", "motor": motor, "conditions": air, "tests": tests})


def here(rows: list[tuple[float, float, float, float, float, float]]) -> float:
    """Seconds to read, judge and decide them all."""
    texts = [job(row) for row in rows]
    begun = time.perf_counter()
    for text in texts:
        assess(read_job(text, {}))
    return time.perf_counter() - begun


def there(folder: Path, rows: list[tuple[float, float, float, float, float, float]]) -> float:
    """Seconds until the office program has written the values of a book of these out."""
    book = Workbook()
    sheet = book.active
    for number, row in enumerate(rows, 1):
        sheet.append([f"X-{number}", *row, *(formula.format(number) for formula in FORMULAS)])
    path = folder / f"year-{len(rows)}.xlsx"
    book.save(path)
    command = ["soffice", f"-env:UserInstallation=file://{folder}/profile", "--headless", "--convert-to", "csv"]
    begun = time.perf_counter()
    run = [*command, "--outdir", str(folder), str(path)]
    subprocess.run(run, check=True, capture_output=True, timeout=600)  # noqa: S603 - our own words
    return time.perf_counter() - begun


def main() -> None:
    """Both, and their ratio."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 5000
    rows = documents(count)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        there(folder, rows[:1])  # its profile is made
        start = min(there(folder, rows[:1]) for _ in range(3))
        office = there(folder, rows) - start
    ours = here(rows)
    print(
        f"{count} tests: judged here {ours:.2f} s, {1e6 * ours / count:.0f} µs each with the decision and its reasons"
    )
    print(f"a spreadsheet's figures {office:.2f} s (its start of {start:.2f} s taken off); ratio {ours / office:.2f}")


if __name__ == "__main__":
    main()
