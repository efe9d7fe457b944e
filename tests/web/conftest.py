"""Shared by the tests of the pages."""

import pytest
from fastapi.testclient import TestClient


@pytest.fixture
def code(client: TestClient) -> str:
    """The code of a pond sheet of the skimmer."""
    answer = client.post("/boats/2/B/pond", data={"place": "mill pond"}, follow_redirects=False)
    assert answer.status_code == 303
    return answer.headers["location"].rsplit("/", 1)[1]
