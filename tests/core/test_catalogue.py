"""Every code with its source and how that is known."""

from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.findings import Finding, Verdict


def test_every_code_has_a_source_or_says_it_is_common_practice():
    for code in CATALOGUE:
        assert Finding(code, Verdict.SOUND, "").source
