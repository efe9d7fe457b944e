"""A builder's walk in Chromium: from the pram to a printed frame and two panels, from the skimmer to pieces for a 220 mm bed."""

import io
import zipfile

import pypdfium2
import pytest
import trimesh
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser


def fetched(page: Page, name: str) -> bytes:
    with page.expect_download() as waiting:
        page.get_by_role("link", name=name, exact=True).first.click()
    with open(waiting.value.path(), "rb") as file:
        return file.read()


def read(data: bytes) -> tuple[tuple[int, int], str]:
    """The size of a PDF's first page in points, and all its text."""
    with pypdfium2.PdfDocument(data) as pdf:
        size = pdf[0].get_size()
        return (round(size[0]), round(size[1])), "".join(page.get_textpage().get_text_range() for page in pdf)


def clean(page: Page) -> None:
    found = Axe().run(page)
    assert not found.response["violations"], found.generate_report()


def test_from_the_pram_to_a_printed_frame_and_two_panels(page: Page, served: str):
    page.goto(f"{served}/boats/1/B/shape")
    page.get_by_role("link", name="Patterns at full size").click()
    page.get_by_label("Skin taken off").fill("6 mm")
    page.get_by_label("Or at stations").fill("1200 mm")
    page.get_by_role("button", name="Draw them").press("Enter")
    expect(page.get_by_role("img", name="Frame F1")).to_be_visible()
    size, text = read(fetched(page, "PDF, A4"))
    assert "F1" in text
    assert size == (595, 842)
    _, text = read(page.request.get(f"{served}/boats/1/B/panels.pdf").body())
    assert "bottom" in text
    assert "side, cut two" in text
    clean(page)
    page.get_by_role("button", name="Note them as printed").click()
    expect(page.get_by_text("the hull is still the same")).to_be_visible()
    page.get_by_role("link", name="Sheets and cutting list").click()
    expect(page.get_by_role("img", name="Sheet 1 with its parts")).to_be_visible()
    assert b"port-side" in fetched(page, "List as CSV")
    clean(page)


def test_from_the_skimmer_to_pieces_for_a_bed(page: Page, served: str):
    page.goto(f"{served}/boats/2/B/pieces")
    page.get_by_label("Bed").fill("220 x 220 x 250")
    page.get_by_label("Wall").fill("1.6 mm")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Pieces 12 pieces")).to_be_visible()
    with zipfile.ZipFile(io.BytesIO(fetched(page, "STL of each"))) as box:
        sizes = [trimesh.load(io.BytesIO(box.read(n)), file_type="stl").extents for n in box.namelist() if n.startswith("P")]
    assert len(sizes) == 12
    assert max(max(s[:2]) for s in sizes) <= 220
    assert max(s[2] for s in sizes) <= 250
    clean(page)
    page.get_by_label("Bed").fill("50 x 50 x 250")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Bed")).to_have_value("50 x 50 x 250")
    expect(page.get_by_role("alert").filter(has_text="larger than the bed")).to_be_visible()
