"""Shared by the tests of the pages."""

import json

import pytest
from fastapi.testclient import TestClient


@pytest.fixture
def code(client: TestClient) -> str:
    """The code of a pond sheet of the skimmer."""
    answer = client.post("/boats/2/B/pond", data={"place": "mill pond"}, follow_redirects=False)
    assert answer.status_code == 303
    return answer.headers["location"].rsplit("/", 1)[1]


def solved_rows(client: TestClient, url: str) -> list[str]:
    """The rows of a table that is sent as it is solved, in their order, asked for again as a page does where the causes came later."""
    answer = client.get(url, headers={"accept": "text/event-stream"})
    assert answer.status_code == 200, answer.text
    if "event: found" in answer.text:
        answer = client.get(url, headers={"accept": "text/event-stream"})
        assert "event: found" not in answer.text
    data = [json.loads(line[6:]) for line in answer.text.splitlines() if line.startswith("data: ")]
    return [d["row"] for d in data if "row" in d]
