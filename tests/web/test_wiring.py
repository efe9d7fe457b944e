"""What holds pages and commands together: every button has its command, every answer its reader."""

import json
import re
from pathlib import Path

import pytest

import yarekeel.web
from tests.web.test_pages import GOOD
from yarekeel.web.shared.page import STAGES
from yarekeel.web.stages.routes import COMMANDS, VIEWS

TEMPLATES = {p: p.read_text() for p in Path(yarekeel.web.__path__[0]).rglob("*.html")}
BUTTONS = [(path, tag) for path, text in TEMPLATES.items() for tag in re.findall(r"<[a-z]+ [^>]*data-do=.*?>", text, re.DOTALL)]


def test_every_button_names_a_command_and_gives_what_it_takes():
    assert len(BUTTONS) > 30
    everything = "".join(TEMPLATES.values())
    for path, tag in BUTTONS:
        verb = re.search(r'data-do="([^"]*)"', tag)[1]
        if "{{" in verb:
            continue  # the command is the row's own
        assert verb in COMMANDS, (path.name, verb)
        takes = COMMANDS[verb].arguments.model_fields
        plain = re.search(r"data-args='([^']*)'", tag)
        if plain and not plain[1].startswith("{{"):
            given = set(re.findall(r'"(\w+)":', plain[1]))
            assert given <= set(takes), (path.name, verb, given)
        if (named := re.search(r'data-as="([^"]*)"', tag)) is not None:
            assert named[1] in takes, (path.name, verb, named[1])
        if (source := re.search(r'data-from="#([^"{]*)"', tag)) is not None:
            assert f'id="{source[1]}"' in everything, (path.name, verb, source[1])


def test_every_command_is_reached_from_a_page():
    text = "".join(TEMPLATES.values())
    web = Path(yarekeel.web.__path__[0])
    code = "".join(p.read_text() for p in [*web.rglob("*.py"), *web.glob("static/alpine/*.js")] if p.name != "commands.py")
    unused = [verb for verb in COMMANDS if verb not in text + code]
    assert unused == []


@pytest.mark.sampled(of=4)
@pytest.mark.parametrize("verb", sorted(COMMANDS))
def test_a_command_given_what_is_none_of_its_own_says_so_and_changes_nothing(client, verb):
    before = client.get("/boats/1/B/shape").text
    on = int(re.search(r'data-snapshot="(\d+)"', before)[1])
    change = {"action": "do", "verb": verb, "path": verb, "args": {"nothing_of_the_kind": 1}}
    answer = client.post("/boats/1/B/shape/look", json={"on": on, "changes": [change], "ask": {}, "keep": True})
    assert answer.status_code == 200
    assert "out of date" in answer.json()["errors"][verb]
    assert answer.json()["snapshot"] == on


def test_the_ladder_the_views_and_the_scripts_keys_are_the_same_stages(client):
    assert list(VIEWS) == [s.slug for s in STAGES]
    page = client.get("/boats/1/B/shape").text
    ladder = page.split('class="ladder', 1)[1].split("</ol>", 1)[0]
    assert re.findall(r'href="/boats/1/B/([a-z]+)"', ladder) == [s.slug for s in STAGES]


def _form(client) -> str:
    body = {"on": 0, "changes": [], "ask": {}, "keep": False, "whole": True}
    return json.dumps(client.post("/boats/2/B/shape/look", json=body).json()["parts"])


def test_an_answer_that_is_remembered_is_in_its_readers_units(client):
    metric = _form(client)
    client.post("/boats/2/B/units", data={"units": "in_lb", "stage": "shape"}, follow_redirects=False)
    inches = _form(client)
    assert re.search(r"value=\\\"[\d.]+ mm", metric)
    assert re.search(r"value=\\\"[\d.]+ in", inches)
    assert not re.search(r"value=\\\"[\d.]+ mm", inches)


def test_an_answer_that_is_remembered_is_shut_once_the_revision_is_sealed(client):
    free = _form(client)
    assert client.post("/boats/2/B/trials/new", data=GOOD, follow_redirects=False).status_code == 303
    sealed = _form(client)
    assert "data-do" in free
    assert sealed.count("disabled") > free.count("disabled") + 3
