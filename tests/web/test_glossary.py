"""Help where a term stands: once in a view, escaped, described; and the page of all terms."""

import re
from types import SimpleNamespace

import pytest
from markupsafe import Markup

from grimcoil.core.glossary import listed
from grimcoil.web.glossed import glossed
from tests.service.conftest import PLATE


@pytest.fixture
def view():
    return {"request": SimpleNamespace(state=SimpleNamespace())}


def test_a_term_opens_the_first_time_alone(view):
    first = glossed(view, "Polarization index 1.4: the polarization index is low.")
    assert first.count('class="term"') == 1
    assert 'popovertarget="term-polarization-index" aria-describedby="term-polarization-index-says"' in first
    assert "10-minute reading" in first
    assert glossed(view, "Polarization index 3") == "Polarization index 3"


def test_a_sentence_stays_as_it_was_and_is_escaped(view):
    said = glossed(view, "<b>Dew point</b> & “wye”, delta, single-phasing")
    sentence = said.partition('<span class="meaning"')[0]  # what it means comes behind it, in no sentence's middle
    assert (
        Markup(re.sub("</?button[^>]*>", "", sentence)).unescape() == "<b>Dew point</b> & “wye”, delta, single-phasing"
    )
    assert said.count('class="term"') == 2  # no sentence of dots


def test_the_page_of_all_terms_has_each_with_its_address(client):
    page = client.get("/glossary").text
    assert all(f'id="{one.key}"' in page for one in listed())
    assert page.count("<dt>") == len(listed()) + 4


def test_no_view_says_a_term_twice_and_marks_are_explained(client):
    client.post("/motors/new", data=PLATE)
    for path in ("/", "/motors", "/jobs", "/fleet", "/fleet/lists"):
        page = client.get(path).text
        assert "What the marks mean" in page
        ids = re.findall(r'id="(term-[^"]+)"', page)
        assert len(ids) == len(set(ids))
