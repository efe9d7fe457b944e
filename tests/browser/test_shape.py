"""A builder's walk through the Shape stage: a CAD mesh lying on its side, an old table stretched, strips glued on."""

import re
from pathlib import Path

import numpy as np
import pytest
import trimesh
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from yarekeel.core.geometry.families import Vee

pytestmark = pytest.mark.browser
SPACE = "\N{NO-BREAK SPACE}"


def lay_down(page: Page, served: str, name: str, family: str) -> None:
    page.goto(served)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Hull family").select_option(family)
    page.get_by_role("button", name="Lay it down").click()


def ready(page: Page) -> None:
    page.wait_for_selector("main[data-ready]")


def weigh(page: Page, name: str, mass: str, aft: str, up: str = "80 mm") -> None:
    page.get_by_role("link", name=re.compile("^3 Weights")).click()
    ready(page)
    page.get_by_role("button", name="Add a weight").click()
    page.get_by_label("Name, New weight").fill(name)
    page.get_by_label("Mass, New weight").fill(mass)
    page.get_by_label("From aft, New weight").fill(aft)
    page.get_by_label("Up, New weight", exact=True).fill(up)
    page.get_by_label("Up, New weight", exact=True).press("Tab")
    expect(page.locator(".bars")).to_contain_text(name)


@pytest.mark.whole
def test_a_cad_mesh_on_its_side_is_righted_and_floats(page: Page, served: str, tmp_path: Path):
    hull = Vee().build()
    turned = hull.vertices @ np.array([[0, 0, 1], [1, 0, 0], [0, 1, 0]]).T * 1000  # its up lies along x, its bow along y
    file = tmp_path / "mill-vee.stl"
    trimesh.Trimesh(turned, hull.faces, process=False).export(file)
    lay_down(page, served, "Mill vee", "mesh")
    page.get_by_label("Mesh file").set_input_files(file)
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_label("millimetre")).to_be_checked()
    page.get_by_label("X up").check()
    expect(page.get_by_label("X up")).to_be_checked()
    page.get_by_label("bow to +Y").check()
    expect(page.get_by_role("heading", name="mill-vee.stl")).to_contain_text(
        f"1{SPACE}000{SPACE}mm long, 300{SPACE}mm wide, 180{SPACE}mm deep"
    )
    assert Axe().run(page).response["violations"] == []
    page.get_by_role("button", name="Bring it in").click()
    expect(page.locator(".part.is-chosen")).to_contain_text("mill-vee")
    weigh(page, "All of it", "4 kg", "450 mm")
    page.get_by_role("link", name=re.compile("^4 Float")).click()
    expect(page.locator(".readouts")).to_contain_text("4 000".replace(" ", SPACE))
    expect(page.locator(".rung.is-current")).to_contain_text(re.compile("level|bow"))


@pytest.mark.whole
def test_an_old_table_is_stretched_and_laid_beside_itself(page: Page, served: str):
    lay_down(page, served, "Reed skiff", "offsets")
    page.get_by_role("link", name=re.compile("^2 Shape")).click()
    ready(page)
    page.get_by_role("button", name="Changes", exact=True).click()
    page.get_by_role("button", name="Sides higher").click()
    page.get_by_label("By", exact=True).fill("20")
    page.get_by_label("By", exact=True).press("Tab")
    expect(page.locator(".change-words")).to_have_text("sides 20 % higher everywhere, above the chine")
    page.get_by_role("button", name="Wider", exact=True).click()
    second = page.locator(".change").nth(1)
    second.get_by_label("By", exact=True).fill("18 %")
    second.get_by_label("Where", exact=True).select_option("0")
    second.get_by_label("Fades to", exact=True).select_option("4")
    expect(page.locator(".change-words").nth(1)).to_have_text("18 % wider at station 0, fading out forward to station 4")
    rows = page.locator(".against tbody tr")
    expect(rows.nth(3)).to_contain_text(f"776{SPACE}l".replace("776", "775.81"))
    expect(page.locator(".ghost").first).to_be_attached()  # the table as drawn, laid over the lines
    page.get_by_label(re.compile("^On: 18 %")).uncheck()
    expect(rows.nth(1)).to_contain_text(f"1{SPACE}000{SPACE}mm")
    page.get_by_role("button", name=re.compile("^Remove: sides")).click()
    expect(page.locator(".change-words")).to_have_count(1)
    page.keyboard.press("Control+z")
    ready(page)
    page.get_by_role("button", name="Changes", exact=True).click()
    expect(page.locator(".change-words")).to_have_count(2)


def test_strips_glued_on_a_vee_raise_its_gm(page: Page, served: str):
    lay_down(page, served, "Mill vee", "vee")
    weigh(page, "All of it", "9 kg", "450 mm")
    page.get_by_role("link", name=re.compile("^2 Shape")).click()
    ready(page)
    rung = page.locator(".rung", has_text="Stability")
    before = float(re.search(r"GM (\d+)", rung.inner_text())[1])
    page.get_by_label("What to make of this part").select_option("strips")
    page.get_by_role("button", name="Make it so").click()
    expect(page.locator(".part.is-chosen")).to_contain_text("side strip")
    expect(rung).not_to_contain_text(f"GM {before:.0f}{SPACE}mm")
    assert float(re.search(r"GM (\d+)", rung.inner_text())[1]) > before
    page.get_by_label("Hide side strip").check()
    page.get_by_role("button", name="Undo").click()
    ready(page)


def test_the_drawing_with_the_keyboard_and_the_pointer(page: Page, served: str):
    page.goto(f"{served}/boats/3/A/shape")
    ready(page)
    lines = page.locator("svg.lines")
    lines.focus()
    page.keyboard.press("ArrowRight")
    expect(lines).to_contain_text("Station 5")
    page.keyboard.press("End")
    expect(page.locator("svg.lines")).to_contain_text("Station 8")
    box = page.locator("svg.lines").bounding_box()
    page.mouse.move(box["x"] + 120, box["y"] + 60)
    expect(page.locator("output.read")).to_contain_text(re.compile(r"mm from aft, .*mm up"))
    page.get_by_role("button", name="In the round").click()
    canvas = page.locator("canvas.solid")
    expect(canvas).to_be_visible()
    first = page.evaluate("document.querySelector('canvas.solid').toDataURL()")
    canvas.focus()
    page.keyboard.press("ArrowLeft")
    second = page.evaluate("document.querySelector('canvas.solid').toDataURL()")
    assert second != first
    page.keyboard.press("0")
    assert page.evaluate("document.querySelector('canvas.solid').toDataURL()") == first


def test_a_size_is_drawn_while_it_is_typed_and_kept_when_it_is_left(page: Page, served: str):
    page.goto(f"{served}/boats/2/B/shape")
    ready(page)
    before = page.locator("main").get_attribute("data-snapshot")
    field = page.get_by_label("Hull beam", exact=True)
    field.fill("140 mm")
    expect(page.locator("svg.lines")).to_contain_text(f"470{SPACE}mm wide")  # 330 between centrelines and a beam
    field.fill("140 mmm")
    page.wait_for_timeout(600)
    expect(page.locator(".field-error:not(:empty)")).to_have_count(0)  # not judged yet
    page.goto(f"{served}/boats/2/B/shape")
    ready(page)
    assert page.locator("main").get_attribute("data-snapshot") == before  # nor kept
    field.fill("140 mmm")
    field.press("Tab")
    expect(page.locator(".field-error:not(:empty)")).to_contain_text("was not understood")
    field.fill("140 mm")
    field.press("Tab")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.locator(".rung", has_text="Shape")).to_contain_text("800")
